import { answer, client, type FigureRow } from '../api/client'

type Kind = 'car' | 'motorcycle'

/** The register of figures as the application has it: what each is called, its unit, its steps. */
export class Figures {
  rows = $state.raw<FigureRow[]>([])
  #kind: Kind | null = null

  /** Ask for the figures of a kind of vehicle; once for each. */
  async load(kind: Kind): Promise<void> {
    if (this.#kind === kind) return
    this.#kind = kind
    const { data } = await answer(client.GET('/api/figures', { params: { query: { kind } } }))
    if (data) this.rows = data
    else this.#kind = null
  }

  /** The figures of one owner, in the order of the work. */
  of(owner: FigureRow['owner']): FigureRow[] {
    return this.rows.filter((row) => row.owner === owner)
  }

  /** One figure of an owner by its field. */
  row(owner: FigureRow['owner'], field: string): FigureRow | undefined {
    return this.rows.find((row) => row.owner === owner && row.field === field)
  }
}
