import {
  answer,
  client,
  sentence,
  type KeptWeather,
  type Listed,
  type PlanWeather,
  type Since,
  type StationLook,
  type WeatherFigure,
  type WeatherReading,
  type WeatherRecord,
} from '../api/client'
import type { Workbench } from '../state/workbench.svelte'

/** The plan is asked what has moved no more often than this. */
const SINCE_EVERY_MS = 2000

/** The record that the open plan is looked at along, and the station as it tells its readings. */
export class Weather {
  now = $state.raw<PlanWeather | null>(null)
  kept = $state.raw<Listed[]>([])
  figures = $state.raw<WeatherFigure[]>([])
  station = $state.raw<StationLook | null>(null)
  since = $state.raw<Since | null>(null)
  trouble = $state('')
  /** The corners that were left as they are; others that move are told again. */
  left = $state('')
  #stream: EventSource | null = null
  #askedAt = 0
  #asking = false
  #loadedFor = 0

  constructor(private readonly bench: Workbench) {}

  get record(): WeatherRecord | null {
    return this.now?.weather?.record ?? null
  }

  /** What marks the state of the record that a study is driven along. */
  get mark(): string {
    const weather = this.now?.weather
    return weather ? `${weather.id}/${weather.revision}` : ''
  }

  /** The record and the station of the open plan, asked for once for each plan. */
  async load(): Promise<void> {
    const open = this.bench.open
    if (!open || this.#loadedFor === open.id) return
    this.#loadedFor = open.id
    this.since = null
    const path = { params: { path: { plan_id: open.id } } }
    const [now, station] = await Promise.all([
      answer(client.GET('/api/plans/{plan_id}/weather', path)),
      answer(client.GET('/api/station')),
    ])
    if (this.#loadedFor !== open.id) return
    this.trouble = now.data ? '' : sentence(now.error)
    this.now = now.data ?? null
    this.station = station.data ?? null
    this.listen()
  }

  /** Records there are to choose from, and how their figures are named. */
  async loadRecords(): Promise<void> {
    const [kept, figures] = await Promise.all([
      answer(client.GET('/api/library/{kind}', { params: { path: { kind: 'weather' } } })),
      this.figures.length > 0
        ? Promise.resolve({ data: this.figures })
        : answer(client.GET('/api/weather-figures')),
    ])
    this.kept = kept.data ?? []
    this.figures = figures.data ?? []
  }

  async choose(choice: { weather_id?: number | null; follows_station?: boolean }): Promise<void> {
    const open = this.bench.open
    if (!open) return
    const { data, error } = await answer(
      client.PUT('/api/plans/{plan_id}/weather', {
        params: { path: { plan_id: open.id } },
        body: choice,
      }),
    )
    this.trouble = data ? '' : sentence(error)
    if (!data) return
    this.now = data
    if (!data.follows_station) this.since = null
    this.listen()
  }

  /** Write the record anew; the sentence of a refusal, or nothing. What was before can come back. */
  async write(record: WeatherRecord, remark: string): Promise<string | null> {
    const weather = this.now?.weather
    if (!weather) return null
    const before = weather.record
    const refused = await this.#put(weather, record, remark)
    if (refused) return refused
    this.bench.say(`${remark}.`, async () => {
      const present = this.now?.weather
      if (present) await this.#put(present, before, `Undone: ${remark}`)
    })
    return null
  }

  async #put(weather: KeptWeather, record: WeatherRecord, remark: string): Promise<string | null> {
    const { data, error } = await answer(
      client.PUT('/api/weather/{weather_id}', {
        params: { path: { weather_id: weather.id } },
        body: { base: weather.revision, record, remark },
      }),
    )
    if (!data) return sentence(error)
    if (this.now) this.now = { ...this.now, weather: data }
    return null
  }

  /** Keep what the station has read so far as a record, and look at the plan along it. */
  async keepStation(name: string): Promise<void> {
    const { data, error } = await answer(
      client.POST('/api/station/keep', { params: { query: { name } } }),
    )
    this.trouble = data ? '' : sentence(error)
    if (data) await this.choose({ weather_id: data.weather_id })
    await this.loadRecords()
  }

  /** Begin a record that is typed, and look at the plan along it. */
  async begin(): Promise<void> {
    const open = this.bench.open
    if (!open) return
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/weather', { params: { path: { plan_id: open.id } } }),
    )
    this.trouble = data ? '' : sentence(error)
    if (data) await this.choose({ weather_id: data.weather_id })
    await this.loadRecords()
  }

  /** Add forecasts typed in words; the sentence of a refusal, or nothing. */
  async type(text: string): Promise<string | null> {
    const open = this.bench.open
    if (!open) return null
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/weather/forecasts', {
        params: { path: { plan_id: open.id } },
        body: { text },
      }),
    )
    if (!data) return sentence(error)
    const before = this.now?.weather ?? null
    await this.choose({ weather_id: data.weather_id })
    await this.loadRecords()
    this.bench.say('Forecast added.', async () => {
      const present = this.now?.weather
      if (!before) await this.choose({ weather_id: null })
      else if (present) await this.#put(present, before.record, 'Undone: forecast added')
    })
    return null
  }

  /** Set where the station is and what it tells; the sentence of a refusal, or nothing. */
  async setStation(address: string | null, threshold_m: number): Promise<string | null> {
    const { data, error } = await answer(
      client.PUT('/api/station', { body: { address, threshold_m } }),
    )
    if (!data) return sentence(error)
    this.station = data
    this.listen()
    this.#askedAt = 0
    void this.#ask()
    return null
  }

  /** Hear the station for as long as the page is looked at; a browser has few lines to one place. */
  listen(): void {
    const wanted = this.station?.address && document.visibilityState === 'visible'
    if (!wanted) {
      this.#stream?.close()
      this.#stream = null
      return
    }
    if (this.#stream && this.#stream.readyState !== EventSource.CLOSED) this.#stream.close()
    const stream = new EventSource('/api/station/stream')
    this.#stream = stream
    stream.addEventListener('reading', (event) => {
      const reading = JSON.parse(event.data as string) as WeatherReading
      void this.#heard(reading)
    })
    stream.addEventListener('gone', (event) => {
      const { sentence: said } = JSON.parse(event.data as string) as { sentence: string }
      if (this.station) this.station = { ...this.station, state: 'gone', trouble: said }
    })
  }

  async #heard(reading: WeatherReading): Promise<void> {
    const station = this.station
    if (!station) return
    const back = station.state !== 'answers'
    this.station = { ...station, state: 'answers', reading, trouble: '' }
    if (back) {
      // Whoever answers now may be another one.
      const { data } = await answer(client.GET('/api/station'))
      if (data) this.station = data
    }
    await this.#ask()
  }

  /** What the station's weather has done to the plan, where it follows the station. */
  async #ask(): Promise<void> {
    const open = this.bench.open
    if (!open || !this.now?.follows_station || this.#asking) return
    if (this.station?.state !== 'answers' || Date.now() - this.#askedAt < SINCE_EVERY_MS) return
    this.#asking = true
    this.#askedAt = Date.now()
    const { data } = await answer(
      client.GET('/api/plans/{plan_id}/since', { params: { path: { plan_id: open.id } } }),
    )
    this.#asking = false
    if (data && this.bench.open?.id === open.id && this.now.follows_station) this.since = data
  }

  /** Take the station's weather into the plan. */
  async takeSince(): Promise<void> {
    const since = this.since
    if (!since) return
    const source = `${since.at.slice(11, 16)} from the station`
    const refused = await this.bench.takeConditions(since.conditions, source)
    if (refused) this.bench.say(refused)
    else this.since = null
    this.#askedAt = 0
  }
}
