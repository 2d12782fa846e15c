/** How fast a workspace's own clock goes: so many seconds of its own in one of the machine's; 0 = it stands. */
export const SPEEDS = [0, 60, 3600, 14_400] as const
export type Speed = (typeof SPEEDS)[number]
