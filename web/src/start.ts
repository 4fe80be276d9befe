import { mount } from 'svelte'
import './app.css'
import App from './App.svelte'
import { loadFaces } from './lib/curve/faces.svelte'
import { askOpening } from './lib/state/opening'

/** So long the page waits for its lap [ms], so that it is laid out once; then it says it waits. */
const PATIENCE_MS = 400

const target = document.getElementById('app')
if (!target) throw new Error('index.html has lost its #app element')

const patience = new Promise((resolve) => setTimeout(resolve, PATIENCE_MS))
// Labels are placed by their widths, which are known once their faces are here.
export default Promise.all([loadFaces(), Promise.race([askOpening(), patience])]).then(() =>
  mount(App, { target }),
)
