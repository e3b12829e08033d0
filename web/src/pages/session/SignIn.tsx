import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useForm } from 'react-hook-form'
import { keys } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { RefusalScope, TextField } from '../../ui/form'
import { Mark } from '../../ui/Mark'
import { Problem } from '../../ui/feedback'
import { Button } from '../../ui/parts'

export function SignIn({ demo }: { demo: Schema<'Demo'> | null }) {
  const client = useQueryClient()
  const { register, handleSubmit } = useForm({ defaultValues: demo ?? { user: '', password: '' } })
  const signIn = useMutation({
    mutationFn: (account: Schema<'SignIn'>) => body(api.POST('/api/session', { body: account })),
    onSuccess: (session) => client.setQueryData(keys.session, session),
  })
  return (
    <main className="grid min-h-dvh place-items-center p-4">
      <form
        className="grid w-full max-w-sm gap-4 rounded-2xl border border-line bg-card p-6"
        onSubmit={handleSubmit((account) => signIn.mutate(account))}
      >
        <div className="flex items-center gap-3">
          <Mark />
          <h1 className="text-2xl font-bold">Keen Coat</h1>
        </div>
        <p className="text-soft">From a blank coated piece to a setting that stays clean.</p>
        {demo && (
          <p className="rounded-xl bg-glaze-tint p-3">
            This is a demo server: its one account is filled in. Everything in it is invented.
          </p>
        )}
        <RefusalScope error={signIn.error}>
          <TextField label="Name" autoComplete="username" {...register('user')} />
          <TextField
            label="Password"
            type="password"
            autoComplete="current-password"
            {...register('password')}
          />
        </RefusalScope>
        {signIn.isError && <Problem error={signIn.error} />}
        <Button look="main" type="submit" disabled={signIn.isPending}>
          Sign in
        </Button>
      </form>
    </main>
  )
}
