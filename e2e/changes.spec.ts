// What changes people and their mail runs in one worker, one test after the other; the views, and then pages, run in
// another beside it: files are taken by their names.
import './line.ts'
import './people.ts'
import './forms.ts'
import './emails.ts'
import './followups.ts'
