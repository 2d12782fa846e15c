import { Outlet } from 'react-router'
import { MendProvider } from '../catalog/useMend.js'

/** The pages on which data is described and mended share one place where changes go through. */
export default function MendingLayout() {
  return (
    <MendProvider>
      <Outlet />
    </MendProvider>
  )
}
