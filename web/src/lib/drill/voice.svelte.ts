/** The browser's own voice, where one speaks on this machine alone; off until it is wanted. */
export class CallVoice {
  on = $state(false)
  there = $state(false)
  #voice: SpeechSynthesisVoice | null = null

  constructor() {
    if (!('speechSynthesis' in window)) return
    this.#look()
    speechSynthesis.addEventListener('voiceschanged', () => this.#look())
  }

  /** Voices that a service elsewhere speaks are none: nothing leaves the machine. */
  #look(): void {
    const local = speechSynthesis.getVoices().filter((voice) => voice.localService)
    this.#voice = local.find((voice) => voice.lang.startsWith('en')) ?? local[0] ?? null
    this.there = this.#voice !== null
  }

  say(text: string): void {
    if (!this.on || !this.#voice) return
    const said = new SpeechSynthesisUtterance(text)
    said.voice = this.#voice
    said.rate = 1.15
    speechSynthesis.speak(said)
  }

  hush(): void {
    if ('speechSynthesis' in window) speechSynthesis.cancel()
  }
}
