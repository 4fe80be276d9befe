import {
  client,
  type CornerCalls,
  type CornerMap,
  type FirstLaps,
  type LapWorth,
  type Racing,
  type WorkingPart,
} from '../api/client'
import { standing } from '../state/bands.svelte'
import { Loaded } from '../state/loaded.svelte'
import type { CornerPart } from '../state/places'
import type { View } from '../state/view.svelte'
import type { Workbench } from '../state/workbench.svelte'

export type Confidence = FirstLaps['confidence']

/** All that can be told of the chosen corner, each part asked for when it is first looked at. */
export class CornerAbout {
  map = new Loaded<CornerMap>()
  calls = new Loaded<CornerCalls>()
  worth = new Loaded<LapWorth>()
  racing = new Loaded<Racing>()
  first = new Loaded<FirstLaps>()
  workings = new Loaded<WorkingPart[]>()

  /** Ask for what a part of the sheet shows, of the plan as it is kept. */
  look(bench: Workbench, view: View, corner: number, part: CornerPart, known: Confidence): void {
    const id = bench.open?.id
    if (id === undefined) return
    const plan = { plan_id: id }
    const here = { plan_id: id, corner }
    const key = standing(bench)
    const units = view.system
    const at = `${key}/${corner}`
    if (part === 'do')
      void this.map.load(at, (signal) =>
        client.GET('/api/plans/{plan_id}/corner-map/{corner}', { params: { path: here }, signal }),
      )
    if (part === 'do' || part === 'calls')
      void this.calls.load(`${at}/${units}`, (signal) =>
        client.GET('/api/plans/{plan_id}/calls/{corner}', {
          params: { path: here, query: { units } },
          signal,
        }),
      )
    if (part === 'worth')
      void this.worth.load(`${key}/${units}`, (signal) =>
        client.GET('/api/plans/{plan_id}/worth', {
          params: { path: plan, query: { units } },
          signal,
        }),
      )
    if (part === 'race')
      void this.racing.load(`${key}/${units}`, (signal) =>
        client.GET('/api/plans/{plan_id}/racing', { params: { path: plan }, signal }),
      )
    if (part === 'first')
      void this.first.load(`${key}/${units}/${known}`, (signal) =>
        client.GET('/api/plans/{plan_id}/first-laps', {
          params: { path: plan, query: { confidence: known } },
          signal,
        }),
      )
    if (part === 'working')
      void this.workings.load(at, (signal) =>
        client.GET('/api/plans/{plan_id}/workings/{corner}', { params: { path: here }, signal }),
      )
  }
}
