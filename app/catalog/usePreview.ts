import type { PreviewReply } from '../routes/ask.preview.js'
import { usePosted } from './usePosted.js'

/** What a definition would give. */
export const usePreview = (definition: unknown) => usePosted<PreviewReply>('/ask/preview', definition, 250)
