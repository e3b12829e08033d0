import type { QueryClient } from '@tanstack/react-query'

/** The name of everything that is fetched. What hangs on a job begins with that job, so that it is fetched anew with it. */
export const keys = {
  session: ['session'],
  catalogue: ['catalogue'],
  machines: ['machines'],
  roomTaken: ['room-taken'],
  experiments: ['experiments'],
  shelf: ['shelf'],
  jigs: ['jigs'],
  eyewear: ['eyewear'],
  dueAgain: ['bench', 'due-again'],
  lasted: ['logbook', 'lasted'],
  rates: ['rates'],
  archives: ['archives'],
  room: ['room'],
  scatter: ['scatter'],
  practice: ['practice'],
  logbook: (wanted?: object) => (wanted ? ['logbook', wanted] : ['logbook']),
  cards: (wanted?: object) => (wanted ? ['logbook', 'cards', wanted] : ['logbook', 'cards']),
  sideBySide: (burns: string) => ['logbook', 'side-by-side', burns],
  piecesBeside: (pieces: string) => ['logbook', 'pieces', pieces],
  burns: (wanted: object) => ['logbook', 'burns', wanted],
  bench: (most?: number) => (most === undefined ? ['bench'] : ['bench', most]),
  jobs: (putAway?: boolean) => (putAway === undefined ? ['jobs'] : ['jobs', putAway]),
  unreadableJobs: ['jobs', 'unreadable'],
  spotTests: (machineId: number) => ['spot', machineId],
  squaring: (told: object) => ['squaring', told],
  turningSteps: (told: object | null) => ['turning-steps', told],
  turning: (machineId: number) => ['turning', machineId],
  burn: (id: number) => ['burn', id],
  artBurn: (id: number) => ['art-burn', id],
  artPack: (id: number) => ['art-pack', id],
  picture: (address: string) => ['picture', address],
  choice: (choice: object | null) => ['choice', choice],
  everyJob: ['job'],
  job: (id: number, part?: string, ...more: unknown[]) =>
    part === undefined ? ['job', id] : ['job', id, part, ...more],
}

/** What a change of a job may change elsewhere. */
const AROUND_A_JOB = [keys.bench(), keys.jobs(), keys.logbook(), keys.practice]

export const fetchAnew = {
  /** Everything of a job, and the lists that it stands in. */
  job: (client: QueryClient, id: number) =>
    Promise.all([keys.job(id), ...AROUND_A_JOB].map((queryKey) => client.invalidateQueries({ queryKey }))),
  /** What a rating changes besides its grid: the job's next step, its window, the bench. */
  rated: (client: QueryClient, id: number) =>
    Promise.all([
      client.invalidateQueries({ queryKey: keys.job(id), exact: true }),
      client.invalidateQueries({ queryKey: keys.job(id, 'window') }),
      client.invalidateQueries({ queryKey: keys.bench() }),
    ]),
  /** All that rests on the workshop's machines, room or figures. */
  everything: (client: QueryClient) => client.invalidateQueries(),
  these: (client: QueryClient, ...wanted: (readonly unknown[])[]) =>
    Promise.all(wanted.map((queryKey) => client.invalidateQueries({ queryKey }))),
}
