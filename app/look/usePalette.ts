import { useColorScheme } from '@mui/material/styles'
import { dark, light, type Palette } from './palette.js'

/** The colours of the scheme in force, for what is drawn on a canvas. */
export function usePalette(): Palette {
  const { mode, systemMode } = useColorScheme()
  return (mode === 'system' ? systemMode : mode) === 'dark' ? dark : light
}
