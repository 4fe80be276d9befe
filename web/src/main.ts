import { mount } from 'svelte'
import App from './App.svelte'
import './app.css'
import { loadFaces } from './lib/curve/faces.svelte'

const target = document.getElementById('app')
if (!target) throw new Error('index.html has lost its #app element')

// Labels are placed by their widths, which are known once their faces are here.
export default loadFaces().then(() => mount(App, { target }))
