import { answer, client, speakIn, type Answer, type Opening } from '../api/client'
import { recalledSystem } from '../parts/units'
import { recallText } from './memory'
import { placeOf } from './places'

let asked: Promise<Answer<Opening>> | null = null

/**
 * Ask for the plan that the address names, else the one that was open last: at once, so that it is
 * on its way while the page is still being read.
 */
export function askOpening(): Promise<Answer<Opening>> {
  speakIn(recalledSystem())
  const wanted = placeOf(location.hash).plan ?? Number(recallText('plan') ?? 0)
  asked ??= answer(
    client.GET('/api/opening', { params: { query: wanted > 0 ? { plan: wanted } : {} } }),
  )
  return asked
}
