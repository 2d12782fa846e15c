import type { Palette } from '../palette.js'

/** How the note beside a point looks, in every chart. */
export function tooltipLook({ tray, trayInk }: Palette) {
  return {
    ...{ backgroundColor: tray, titleColor: trayInk, bodyColor: trayInk, footerColor: trayInk },
    ...{ padding: 10, boxPadding: 4 },
  }
}
