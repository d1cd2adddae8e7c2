import { Leaf } from "lucide-react"
import { lazy, type ReactNode, Suspense } from "react"
import { Link, NavLink, Outlet, Route, Routes, useLocation, useParams } from "react-router"

import { isIn, type Session, useSession, useSignOut } from "./api/access"
import { useCollection } from "./api/queries"
import { Boundary } from "./parts/boundary"
import { Display } from "./parts/display"
import { Keys } from "./parts/keys"
import { Failure, Waiting } from "./parts/notice"
import { Collections } from "./rooms/collections"
import { t } from "./words"

// What the first view does without is fetched after it.
const Begin = lazy(() => import("./rooms/begin"))
const SignIn = lazy(() => import("./rooms/sign-in"))
const Toasts = lazy(() => import("./parts/toasts"))

// Rooms are fetched when somebody enters them.
const Accuracy = lazy(() => import("./rooms/accuracy"))
const Account = lazy(() => import("./rooms/account"))
const Ask = lazy(() => import("./rooms/ask"))
const Audit = lazy(() => import("./rooms/audit"))
const Digest = lazy(() => import("./rooms/digest"))
const Hosts = lazy(() => import("./rooms/hosts"))
const Intake = lazy(() => import("./rooms/intake"))
const Pages = lazy(() => import("./rooms/pages"))
const People = lazy(() => import("./rooms/people"))
const Reader = lazy(() => import("./rooms/reader"))
const Search = lazy(() => import("./rooms/search"))
const Service = lazy(() => import("./rooms/service"))
const Settings = lazy(() => import("./rooms/settings"))

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
          <Route path="pages/:document/digest" element={<Digest />} />
          <Route path="pages/:document/:number" element={<Reader />} />
          <Route path="ask" element={<Ask />} />
          <Route path="ask/:conversation" element={<Ask />} />
          <Route path="search" element={<Search />} />
          <Route path="accuracy/*" element={<Accuracy />} />
          <Route path="settings/*" element={<Settings />} />
        </Route>
        <Route path="people" element={<People />} />
        <Route path="audit" element={<Audit />} />
        <Route path="hosts" element={<Hosts />} />
        <Route path="service" element={<Service />} />
        <Route path="account" element={<Account />} />
        <Route path="*" element={<Lost />} />
      </Route>
    </Routes>
  )
}

// areas of a collection, and the rights with which they are of use.
const areas = [
  ["intake", t("Intake"), ["reader", "editor", "owner", "administrator"]],
  ["pages", t("Pages"), ["reader", "editor", "owner", "administrator"]],
  ["search", t("Search"), ["reader", "editor", "owner", "administrator"]],
  ["ask", t("Ask"), ["reader", "editor", "owner", "administrator"]],
  ["accuracy", t("Accuracy"), ["owner", "administrator"]],
  ["settings", t("Settings"), ["editor", "owner", "administrator"]],
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
        {t("Skip to the content")}
      </a>
      <header className="border-b border-line">
        <div className="mx-auto flex max-w-7xl flex-wrap items-baseline gap-x-8 gap-y-1 px-4 py-2 sm:px-6 sm:py-3">
          <Link to="/" className="flex items-baseline gap-2 font-serif text-xl">
            <Leaf aria-hidden className="size-4.5 translate-y-0.5 text-leaf" />
            Jardinet
          </Link>
          <nav aria-label={t("Areas")} className="order-last -mx-4 flex min-w-0 basis-full gap-x-6 overflow-x-auto px-4 whitespace-nowrap sm:order-none sm:mx-0 sm:basis-auto sm:flex-wrap sm:px-0">
            <Area to="/" label={t("Collections")} />
            {shown.map(([path, label]) => (
              <Area key={path} to={`/c/${collection}/${path}`} label={label} />
            ))}
            {!collection && session.data?.administrator && (
              <>
                {session.data.kind !== "open" && <Area to="/people" label={t("People")} />}
                {session.data.kind !== "open" && <Area to="/audit" label={t("Audit")} />}
                <Area to="/service" label={t("Service")} />
              </>
            )}
          </nav>
          <span className="ml-auto flex min-w-0 items-baseline gap-x-4">
            {collection && <span className="truncate font-serif text-quiet italic">{collection}</span>}
            {session.data?.kind === "person" && <Who session={session.data} />}
            <Display />
            <Keys />
          </span>
        </div>
      </header>
      <main id="room" className="mx-auto max-w-7xl px-4 py-6 sm:px-6 sm:py-8">
        <Boundary place={pathname}>
          <Suspense fallback={<Waiting what={t("One moment…")} />}>
            <Door session={session} open={pathname === "/begin"}>
              <Outlet key={collection} />
            </Door>
          </Suspense>
        </Boundary>
      </main>
      <Suspense>
        <Toasts />
      </Suspense>
    </div>
  )
}

// Door lets in who is signed in; others are asked to.
function Door({ session, open, children }: { session: ReturnType<typeof useSession>; open: boolean; children: ReactNode }) {
  if (session.isPending) return <Waiting what={t("One moment…")} />
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
        {t("Sign out")}
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
      {t("There is nothing at this address.")}{" "}<Link to="/" className="text-leaf underline">{t("Go to the collections.")}</Link>
    </p>
  )
}
