import { askOpening } from './lib/state/opening'

// The lap is asked for before the page and its styles are read, which takes as long.
void askOpening()
void import('./start')
