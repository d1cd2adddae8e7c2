import { Leaf } from "lucide-react"
import { lazy, type ReactNode, Suspense } from "react"
import { Link, NavLink, Outlet, Route, Routes, useLocation, useParams } from "react-router"

import { isIn, type Session, useSession, useSignOut } from "./api/access"
import { useCollection } from "./api/queries"
import { Failure, Waiting } from "./parts/notice"
import { Account } from "./rooms/account"
import { Ask } from "./rooms/ask"
import { Audit } from "./rooms/audit"
import { Collections } from "./rooms/collections"
import { Intake } from "./rooms/intake"
import { PageRoom } from "./rooms/page"
import { Pages } from "./rooms/pages"
import { People } from "./rooms/people"
import { Search } from "./rooms/search"
import { Settings } from "./rooms/settings"
import { Begin, SignIn } from "./rooms/sign-in"

// Charts weigh more than all the rest, and only owners see them.
const Accuracy = lazy(() => import("./rooms/accuracy"))

// App maps addresses to rooms. Every room of a collection carries its name in
// the address, so that any view can be sent to a colleague.
export function App() {
  return (
    <Routes>
      <Route element={<Frame />}>
        <Route index element={<Collections />} />
        <Route path="c/:collection">
          <Route index element={<Ask />} />
          <Route path="intake" element={<Intake />} />
          <Route path="pages" element={<Pages />} />
          <Route path="pages/:document/:number" element={<PageRoom />} />
          <Route path="ask" element={<Ask />} />
          <Route path="ask/:conversation" element={<Ask />} />
          <Route path="search" element={<Search />} />
          <Route
            path="accuracy/*"
            element={
              <Suspense fallback={<Waiting what="One moment…" />}>
                <Accuracy />
              </Suspense>
            }
          />
          <Route path="settings" element={<Settings />} />
        </Route>
        <Route path="people" element={<People />} />
        <Route path="audit" element={<Audit />} />
        <Route path="account" element={<Account />} />
        <Route path="*" element={<Lost />} />
      </Route>
    </Routes>
  )
}

// areas of a collection, and the rights with which they are of use.
const areas = [
  ["intake", "Intake", ["reader", "editor", "owner", "administrator"]],
  ["pages", "Pages", ["reader", "editor", "owner", "administrator"]],
  ["search", "Search", ["reader", "editor", "owner", "administrator"]],
  ["ask", "Ask", ["reader", "editor", "owner", "administrator"]],
  ["accuracy", "Accuracy", ["owner", "administrator"]],
  ["settings", "Settings", ["editor", "owner", "administrator"]],
] as const

function Frame() {
  const { collection = "" } = useParams()
  const { pathname } = useLocation()
  const session = useSession()
  const right = useCollection(collection)?.right
  const shown = areas.filter(([, , rights]) => collection && right && (rights as readonly string[]).includes(right))
  return (
    <div className="min-h-dvh">
      <a href="#room" className="sr-only focus:not-sr-only focus:absolute focus:left-4 focus:top-2">
        Skip to the content
      </a>
      <header className="border-b border-line">
        <div className="mx-auto flex max-w-7xl flex-wrap items-baseline gap-x-8 gap-y-1 px-6 py-3">
          <Link to="/" className="flex items-baseline gap-2 font-serif text-xl">
            <Leaf aria-hidden className="size-4.5 translate-y-0.5 text-leaf" />
            Jardinet
          </Link>
          <nav aria-label="Areas" className="flex flex-wrap gap-x-6">
            <Area to="/" label="Collections" />
            {shown.map(([path, label]) => (
              <Area key={path} to={`/c/${collection}/${path}`} label={label} />
            ))}
            {!collection && session.data?.administrator && session.data.kind !== "open" && (
              <>
                <Area to="/people" label="People" />
                <Area to="/audit" label="Audit" />
              </>
            )}
          </nav>
          <span className="ml-auto flex items-baseline gap-6">
            {collection && <span className="font-serif text-quiet italic">{collection}</span>}
            {session.data?.kind === "person" && <Who session={session.data} />}
          </span>
        </div>
      </header>
      <main id="room" className="mx-auto max-w-7xl px-6 py-8">
        <Door session={session} open={pathname === "/begin"}>
          <Outlet key={collection} />
        </Door>
      </main>
    </div>
  )
}

// Door lets in who is signed in; others are asked to.
function Door({ session, open, children }: { session: ReturnType<typeof useSession>; open: boolean; children: ReactNode }) {
  if (session.isPending) return <Waiting what="One moment…" />
  if (session.isError) return <Failure error={session.error} />
  if (open) return <Begin />
  return isIn(session.data) ? children : <SignIn />
}

function Who({ session }: { session: Session }) {
  const signOut = useSignOut()
  return (
    <span className="flex items-baseline gap-4 text-sm">
      <Link to="/account" className="hover:underline">
        {session.name}
      </Link>
      <button type="button" className="text-quiet hover:underline" onClick={() => signOut.mutate()}>
        Sign out
      </button>
    </span>
  )
}

function Area({ to, label }: { to: string; label: string }) {
  return (
    <NavLink
      to={to}
      end={to === "/"}
      className={({ isActive }) =>
        `border-b-2 py-1 ${isActive ? "border-leaf text-ink" : "border-transparent text-quiet hover:text-ink"}`
      }
    >
      {label}
    </NavLink>
  )
}

function Lost() {
  return (
    <p>
      There is nothing at this address. <Link to="/" className="text-leaf underline">Go to the collections.</Link>
    </p>
  )
}
