// What changes the demo runs in one worker, one test after the other; the views are read in another beside it.
import './line.ts'
import './people.ts'
import './pages.ts'
