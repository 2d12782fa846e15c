import sansFont from '@fontsource-variable/hanken-grotesk/files/hanken-grotesk-latin-wght-normal.woff2?url'
import '@fontsource-variable/hanken-grotesk'
import serifFont from '@fontsource-variable/newsreader/files/newsreader-latin-wght-normal.woff2?url'
import '@fontsource-variable/newsreader'
import CssBaseline from '@mui/material/CssBaseline'
import InitColorSchemeScript from '@mui/material/InitColorSchemeScript'
import { ThemeProvider } from '@mui/material/styles'
import type { ReactNode } from 'react'
import {
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  isRouteErrorResponse,
  useLocation,
  useRouteError,
  useRouteLoaderData,
  type HeadersArgs,
  type ShouldRevalidateFunctionArgs,
} from 'react-router'
import './styles/base.css'
import './styles/topBar.css'
import './styles/pages.css'
import './styles/home.css'
import './styles/import.css'
import './styles/narrow.css'
import './styles/question.css'
import './styles/study.css'
import './styles/charts.css'
import './styles/tables.css'
import './styles/crosstab.css'
import './styles/funnel.css'
import './styles/funnelForms.css'
import './styles/boards.css'
import './styles/catalog.css'
import './styles/catalogPages.css'
import './styles/mending.css'
import './styles/people.css'
import './styles/segment.css'
import './styles/overlap.css'
import './styles/outreach.css'
import './styles/retention.css'
import './styles/retrace.css'
import type { Route } from './+types/root'
import { ShortAddress } from './address/ShortAddress.js'
import { isLong, WHOLE_SEARCH } from './address/shortAddress.js'
import { dowser } from './door/dowser.server.js'
import { useNonce } from './page/nonce.js'
import { paletteCss } from './look/palette.js'
import { useFreshData } from './study/useFreshData.js'
import { theme } from './look/theme.js'
import { ErrorSheet } from './ui/ErrorSheet.js'
import { TopBar } from './ui/TopBar.js'
import { cutsOf } from '../core/sessions/settings.js'
import { cutsWords } from '../core/sessions/words.js'
import type { Words } from '../core/words/words.js'
import { WorkspaceContext } from './page/workspace.js'

export async function loader({ request }: Route.LoaderArgs) {
  const { name, zone, firstDayOfWeek, sessionMinutes, sessionCuts } = dowser().settings.get()
  const sessions = cutsWords(cutsOf(sessionMinutes, sessionCuts))
  const engine = await dowser().status()
  // While the data is still being read, pages show that; the catalog would have to wait for it.
  const catalog = engine.ready ? await dowser().catalog() : { version: engine.version, events: [], properties: [] }
  // The page asks again until its catalog is of the newest data as well.
  const status = { ...engine, version: Math.min(engine.version, catalog.version) }
  const changing = catalog.properties.flatMap(({ property, changes }) =>
    property.of === 'person' && changes ? [property.name] : [],
  )
  const words: Words = { ...dowser().wordsAt(status.now), changing }
  const { thisYear } = words
  // Whoever has only a link learns nothing of the workspace but what the link shows.
  if (new URL(request.url).pathname.startsWith('/shared/'))
    return {
      ...{ name, zone, firstDayOfWeek, sessions, thisYear, words: { thisYear }, status },
      ...{
        catalog: { version: engine.version, events: [], properties: [] },
        studies: [],
        dashboards: [],
        destinations: [],
        segments: [],
      },
    }
  const studies = dowser()
    .studies.list()
    .map(({ id, name }) => ({ id, name }))
  const dashboards = dowser()
    .dashboards.list()
    .map(({ id, name }) => ({ id, name }))
  const destinations = dowser()
    .destinations.list()
    .map(({ id, name }) => ({ id, name }))
  const segments = dowser()
    .segments.list()
    .map(({ id, name, description, frozenMs }) => ({ id, name, description, frozen: frozenMs !== null }))
  // Of a short address: what it stands for, so that the page in the browser knows it as well.
  const { search } = new URL(request.url)
  const whole = isLong(search) ? { search } : {}
  return {
    ...{
      name,
      zone,
      firstDayOfWeek,
      sessions,
      thisYear,
      words,
      status,
      catalog,
      studies,
      dashboards,
      destinations,
      segments,
    },
    ...whole,
  }
}

export const meta = () => [{ title: 'Dowser' }]

/** A page that cannot be shown just now says when to come again. */
export const headers = ({ errorHeaders }: HeadersArgs) => errorHeaders ?? new Headers()

/** What there is to ask about changes when data or definitions do, not when a question does. */
export function shouldRevalidate({
  formMethod,
  defaultShouldRevalidate,
  currentUrl,
  nextUrl,
}: ShouldRevalidateFunctionArgs) {
  if (formMethod && formMethod !== 'GET') return true
  if (currentUrl.href === nextUrl.href) return defaultShouldRevalidate
  return false
}

export function Layout({ children }: { children: ReactNode }) {
  const nonce = useNonce()
  const search = useRouteLoaderData<typeof loader>('root')?.search
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <meta property="csp-nonce" nonce={nonce} />
        {/* Asked for before the style sheets are read, so that no line breaks anew when they arrive. */}
        {[sansFont, serifFont].map((href) => (
          <link key={href} rel="preload" href={href} as="font" type="font/woff2" crossOrigin="anonymous" />
        ))}
        <link rel="icon" href="/favicon.svg" type="image/svg+xml" />
        {search && <meta name={WHOLE_SEARCH} content={search} />}
        <Meta />
        <Links nonce={nonce} />
        <style nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: paletteCss() }} />
      </head>
      <body>
        <InitColorSchemeScript attribute="data-scheme" defaultMode="system" nonce={nonce} />
        <ThemeProvider theme={theme} defaultMode="system">
          <CssBaseline enableColorScheme />
          {children}
        </ThemeProvider>
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  )
}

export default function App({ loaderData }: Route.ComponentProps) {
  useFreshData(loaderData.status.version)
  return (
    <WorkspaceContext value={loaderData}>
      <TopBar />
      <ShortAddress />
      <Outlet />
    </WorkspaceContext>
  )
}

export function ErrorBoundary() {
  const error = useRouteError()
  const status = isRouteErrorResponse(error) ? error.status : 500
  const detail = isRouteErrorResponse(error)
    ? String(error.data)
    : error instanceof Error
      ? error.message
      : String(error)
  // Whoever has only a link has no Home here.
  const inside = !useLocation().pathname.startsWith('/shared/')
  return (
    <main className="page narrow">
      <ErrorSheet {...told(status, detail)} {...(inside ? { action: { label: 'Go to Home', to: '/' } } : {})} />
    </main>
  )
}

/** What happened, by what the server answered: below 500, and for 503 and 507, its words are meant for people. */
function told(status: number, detail: string): { title: string; text: string; detail?: string; again?: boolean } {
  if (status === 404)
    return {
      title: 'There is nothing at this address',
      text: detail || 'It may have been deleted, or the address is not quite right.',
    }
  if (status === 503 || status === 507 || status === 429) return { title: 'Not just now', text: detail, again: true }
  if (status < 500) return { title: 'This could not be done', text: detail, again: true }
  return {
    title: 'Something went wrong on this page',
    text: 'What was saved before is safe. Try once more; if it happens again, the detail below helps to find out why.',
    detail,
    again: true,
  }
}
