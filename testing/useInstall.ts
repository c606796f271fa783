import { afterAll, beforeAll } from 'vitest'
import type { ContactList, PersonView } from '../contract/audience/people.ts'
import { openInstall, type TestInstall } from './install.ts'
import { signedIn, type Marketer } from './marketer.ts'
import { made } from './people.ts'

/** What the tests of one file share: an install of their own, and somebody of the business at its API. */
export interface Used {
  readonly install: TestInstall
  readonly mara: Marketer
  readonly q: TestInstall['platform']['database']
  /** Adds a person by hand. */
  add(address: string, more?: object): Promise<number>
  view(id: number): Promise<PersonView>
  find(request: object): Promise<ContactList>
}

/** Opens an install before the tests of the file, and closes it after them; what it gives is there within tests. */
export function useInstall({
  worker = true,
  patience,
  env = {},
}: { worker?: boolean; patience?: number; env?: Record<string, string> } = {}): Used {
  let opened: { install: TestInstall; mara: Marketer } | undefined
  const of = (): { install: TestInstall; mara: Marketer } => {
    if (!opened) throw new Error('the install is there once the tests run')
    return opened
  }
  beforeAll(async () => {
    const install = await openInstall(env, patience === undefined ? {} : { patience })
    if (worker) await install.startWorker()
    opened = { install, mara: await signedIn(install.url) }
  })
  afterAll(() => opened?.install.close())
  return {
    get install() {
      return of().install
    },
    get mara() {
      return of().mara
    },
    get q() {
      return of().install.platform.database
    },
    add: async (address, more = {}) =>
      (await made<{ id: number }>(of().mara.post('/people', { address, ...more }))).id,
    view: (id) => of().mara.get<PersonView>(`/people/${id}`),
    find: (request) => made<ContactList>(of().mara.post('/people/find', request)),
  }
}
