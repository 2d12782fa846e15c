const NAME = 'dowser write key'

/** Keeps a key that was just made, until this tab is closed: it is shown but once, and wanted on the page beside. */
export function keepWriteKey(key: string): void {
  sessionStorage.setItem(NAME, key)
}

/** The key that was made last in this tab; null where none was. */
export const keptWriteKey = (): string | null => sessionStorage.getItem(NAME)
