// What changes people and their mail runs in one worker, one test after the other; pages, and then the views, run in
// another beside it.
import './line.ts'
import './people.ts'
