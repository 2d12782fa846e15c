import { useEffect, useState } from 'react'
import { useBlocker, useNavigate } from 'react-router'

/**
 * A definition while it is edited on a page of its own: leaving with changes is asked about, and once it is kept the page
 * goes back to the list.
 */
export function useDraft<T>(before: T, back: string) {
  const [draft, setDraft] = useState(before)
  const [kept, setKept] = useState(false)
  const navigate = useNavigate()
  const changed = JSON.stringify(draft) !== JSON.stringify(before)
  const blocker = useBlocker(changed && !kept)
  // Going away is allowed only once the page knows that it was kept.
  useEffect(() => {
    if (kept) void navigate(back)
  }, [kept, navigate, back])
  return { draft, setDraft, changed, blocker, leave: () => setKept(true) }
}
