import { Card, FileLink } from '../../ui/parts'

/** All that the shop keeps, to take along. */
export function TakeAllCard() {
  return (
    <Card title="Everything in one file">
      <p className="mb-3">
        Jobs, grids, ratings, photos, settings, batches and the logbook as JSON, CSV and pictures: yours to
        keep. People and the practice bench are not in it.
      </p>
      <FileLink href="/api/workshop.zip">Take everything out</FileLink>
    </Card>
  )
}
