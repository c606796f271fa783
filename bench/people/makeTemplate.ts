// Fills the template database in a process of its own: compiling the emails takes memory that is not the import's.
import { setup } from '../../testing/template.ts'

await setup()
