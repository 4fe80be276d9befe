import { FIGURES } from './columns'

/** What the figures of the sheet are called, by their names in the document. */
export const LABELS = Object.fromEntries(FIGURES.map((column) => [column.figure as string, column]))
