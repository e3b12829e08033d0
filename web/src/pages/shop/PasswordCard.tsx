import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body } from '../../api/client'
import { Problem } from '../../ui/feedback'
import { RefusalScope, TextField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'

/** Changes one's own password; other browsers are signed out by it. */
export function PasswordCard() {
  const [open, setOpen] = useState(false)
  const [before, setBefore] = useState('')
  const [after, setAfter] = useState('')
  const change = useMutation({
    mutationFn: () => body(api.PUT('/api/session/password', { body: { old: before, new: after } })),
    onSuccess: () => {
      setBefore('')
      setAfter('')
      setOpen(false)
    },
  })
  return (
    <Card title="Password">
      {change.isSuccess && !open && <p className="mb-2">It is changed. Other browsers are signed out.</p>}
      {open ? (
        <RefusalScope error={change.error}>
          <form
            className="grid gap-3"
            onSubmit={(event) => {
              event.preventDefault()
              change.mutate()
            }}
          >
            <TextField
              label="The one you have"
              name="old"
              type="password"
              autoComplete="current-password"
              value={before}
              onChange={(e) => setBefore(e.target.value)}
            />
            <TextField
              label="The new one"
              name="new"
              type="password"
              autoComplete="new-password"
              value={after}
              onChange={(e) => setAfter(e.target.value)}
            />
            <Button look="main" disabled={change.isPending || !before || !after}>
              Change it
            </Button>
            {change.error && <Problem error={change.error} />}
          </form>
        </RefusalScope>
      ) : (
        <Button onClick={() => setOpen(true)}>Change your password</Button>
      )}
    </Card>
  )
}
