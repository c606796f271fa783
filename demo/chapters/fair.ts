import { Readable } from 'node:stream'
import type { ImportChoices } from '../../contract/audience/imports.ts'
import { runImport, runImportCheck, viewImport } from '../../server/audience/imports/imports.ts'
import { takeUpload } from '../../server/audience/imports/upload.ts'
import type { Platform } from '../../server/platform.ts'
import { unwatched } from '../progress.ts'

/** People whom Mara wrote down at a fair, as her spreadsheet exported them: with its faults. */
const fairList = [
  'E-mail;First name;Last name;Country;Books sewn;Tags',
  ...[
    'Aoife;Underhay',
    'Bram;Vellumsby',
    'Clio;Weldgrove',
    'Dara;Yarrowby',
    'Edda;Quarrystone',
    'Fionn;Saltmarsh',
    'Greta;Loamfield',
    'Hugo;Nettleford',
    'Imre;Ottermere',
    'Juno;Ravensby',
    'Kaia;Thistledown',
    'Lucan;Inglewood',
  ].map(
    (name, i) =>
      `${name.replace(';', '.').toLowerCase()}@fair.example;${name};${i % 3 ? 'IE' : 'GB'};${i % 5};${i % 4 ? '' : 'Wants a workshop'}`,
  ),
  'noor at fair.example;Noor;Hallowell;IE;2;',
  'wren.alder@fair.example;Wren;Alder;Paperland;1;',
  'tove.barrow@fair.example;Tove;Barrow;IE;seven;',
  'aoife.underhay@fair.example;Aoife;Underhay-Alder;IE;4;Wants a workshop',
].join('\r\n')

/** Takes the list of the fair in by the same import that its owner would use. */
export async function importList(platform: Platform): Promise<void> {
  const id = await takeUpload(platform, 'Spring fair.csv', Readable.from([Buffer.from(fairList)]))
  const { choices } = await viewImport(platform.database, id)
  const request: ImportChoices = {
    ...choices,
    tags: ['Spring fair'],
    permission: 'agreed',
    statement: 'Wrote their address into the book at our table at the spring fair, to get the letter',
  }
  await platform.database.rows('update import set choices = $2 where id = $1', [id, JSON.stringify(request)])
  await runImportCheck(platform, id, unwatched)
  await runImport(platform, id, unwatched)
}
