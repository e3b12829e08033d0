import { useRouteError } from 'react-router'
import { useIsOld } from '../api/build'
import { Heading } from './Heading'
import { Button, Card, LinkButton } from './parts'

/** In the place of a page that could not be shown: what happened, and what helps. */
export function PageError() {
  const error = useRouteError()
  const isOld = useIsOld()
  const words = error instanceof Error ? error.message : String(error)
  // Browsers word it differently when a part of the interface cannot be fetched.
  const isGone = /import|module|chunk/i.test(words)
  return (
    <Card accent>
      <div role="alert">
        <Heading title="Something went wrong">This page could not be shown</Heading>
        <p className="mt-2">
          {isOld || isGone
            ? 'A part of it could not be fetched: the server may have got a newer Keen Coat, or it does not answer.'
            : 'The page met an error of ours while it was being drawn. What the server keeps is as it was.'}
        </p>
        <p className="mt-2 font-mono text-sm text-soft">{words.slice(0, 200)}</p>
        <div className="mt-4 flex flex-wrap gap-3">
          <Button look="main" onClick={() => location.reload()}>
            Load it anew
          </Button>
          <LinkButton to="/">To the Bench</LinkButton>
        </div>
      </div>
    </Card>
  )
}
