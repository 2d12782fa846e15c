import type { Palette } from '../look/palette.js'

/** The axis of times or places below a chart: as many names as have room, side by side. */
export function placesAxis({ rule, soft }: Palette, apart = 22) {
  return {
    grid: { display: false },
    border: { color: rule },
    ticks: { color: soft, maxRotation: 0, autoSkipPadding: apart },
  }
}

/** How the note beside a point looks, in every chart. */
export function tooltipLook({ tray, trayInk }: Palette) {
  return {
    ...{ backgroundColor: tray, titleColor: trayInk, bodyColor: trayInk, footerColor: trayInk },
    ...{ padding: 10, boxPadding: 4 },
  }
}
