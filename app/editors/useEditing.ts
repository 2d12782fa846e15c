import { useCallback, useRef } from 'react'
import { useLocation, useNavigate, useNavigation } from 'react-router'
import type { Question } from '../../core/analyses/registry.js'
import { useUndoKeys } from './useUndoKeys.js'

interface EditState {
  /** how many edits deep this entry of the history is, so that undo knows where the study began */
  edits?: number
}

/**
 * Edits of a definition are steps of the browser's history: back, undo and a reload are the same thing. Typing in one
 * editor is one step.
 */
export function useEditing<T extends object = Question>(param: 'q' | 'rule' | 'kept' = 'q') {
  const navigate = useNavigate()
  const location = useLocation()
  const navigation = useNavigation()
  const edits = (location.state as EditState | null)?.edits ?? 0
  const deepest = useRef(edits)
  deepest.current = Math.max(deepest.current, edits)
  const typing = useRef(false)
  const pathname = useRef(location.pathname)
  if (pathname.current !== location.pathname) {
    pathname.current = location.pathname
    deepest.current = edits
  }

  const edit = useCallback(
    (definition: T, how: 'choose' | 'type' = 'choose') => {
      const replace = how === 'type' && typing.current
      typing.current = how === 'type'
      const next = replace ? edits : edits + 1
      deepest.current = next
      // What else the address says of a page, beside the definition, stays.
      const params = param === 'q' ? new URLSearchParams() : new URLSearchParams(location.search)
      params.set(param, JSON.stringify(definition))
      void navigate(
        { pathname: location.pathname, search: `?${params.toString()}` },
        { replace, preventScrollReset: true, state: { edits: next } satisfies EditState },
      )
    },
    [navigate, location.pathname, location.search, param, edits],
  )
  const endTyping = useCallback(() => {
    typing.current = false
  }, [])
  // A step back that is still being loaded has been taken: who goes on again at once gets back to where they were.
  const going = navigation.location
  const at = going?.pathname === location.pathname ? ((going.state as EditState | null)?.edits ?? 0) : edits
  const canUndo = Math.min(edits, at) > 0
  const canRedo = at < deepest.current
  const undo = useCallback(() => {
    if (canUndo) void navigate(-1)
  }, [navigate, canUndo])
  const redo = useCallback(() => {
    if (canRedo) void navigate(1)
  }, [navigate, canRedo])

  useUndoKeys(undo, redo)

  /** The definition that is on its way, so that the sentence answers at once. */
  const pending =
    navigation.location?.pathname === location.pathname
      ? new URLSearchParams(navigation.location.search).get(param)
      : null
  return { edit, endTyping, undo, redo, canUndo, canRedo, pending, busy: navigation.state === 'loading' }
}
