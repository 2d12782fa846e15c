const MOST = 6

/** Names used lately on this device, newest first. */
export function recentNames(list: 'events' | 'properties'): string[] {
  try {
    const stored: unknown = JSON.parse(localStorage.getItem(`recent ${list}`) ?? '[]')
    return Array.isArray(stored) ? stored.filter((name) => typeof name === 'string') : []
  } catch {
    return []
  }
}

export function noteUse(list: 'events' | 'properties', name: string): void {
  try {
    const names = [name, ...recentNames(list).filter((other) => other !== name)].slice(0, MOST)
    localStorage.setItem(`recent ${list}`, JSON.stringify(names))
  } catch {
    // Storage is full or forbidden: the list only saves a little time.
  }
}
