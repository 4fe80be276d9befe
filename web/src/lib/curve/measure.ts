/** Widths of text as the page will set it, measured on a canvas. */

let context: CanvasRenderingContext2D | null = null

export function textWidth(text: string, font: string): number {
  context ??= document.createElement('canvas').getContext('2d')
  if (!context) return text.length * 9
  context.font = font
  return context.measureText(text).width
}

/** Fonts of the curve's labels; the dense ones are for laps of many corners. */
export const FONTS = {
  denseHigh: "600 14px 'Brygada 1918 Variable'",
  denseLow: "600 15px 'Brygada 1918 Variable'",
  map: "italic 500 16px 'Brygada 1918 Variable'",
  high: "600 18px 'Brygada 1918 Variable'",
  low: "600 21px 'Brygada 1918 Variable'",
  place: "italic 500 14px 'Brygada 1918 Variable'",
}
