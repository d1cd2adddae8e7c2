import { Leaf } from "lucide-react"
import { Link, NavLink, Outlet, Route, Routes, useParams } from "react-router"

import { Accuracy } from "./rooms/accuracy"
import { Ask } from "./rooms/ask"
import { Collections } from "./rooms/collections"
import { Intake } from "./rooms/intake"
import { MeasurementRoom } from "./rooms/measurement"
import { PageRoom } from "./rooms/page"
import { Pages } from "./rooms/pages"
import { Settings } from "./rooms/settings"

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
          <Route path="accuracy" element={<Accuracy />} />
          <Route path="settings" element={<Settings />} />
          <Route path="accuracy/:measurement" element={<MeasurementRoom />} />
        </Route>
        <Route path="*" element={<Lost />} />
      </Route>
    </Routes>
  )
}

const areas = [
  ["intake", "Intake"],
  ["pages", "Pages"],
  ["ask", "Ask"],
  ["accuracy", "Accuracy"],
  ["settings", "Settings"],
] as const

function Frame() {
  const { collection } = useParams()
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
            {collection && areas.map(([path, label]) => <Area key={path} to={`/c/${collection}/${path}`} label={label} />)}
          </nav>
          {collection && <span className="ml-auto font-serif text-quiet italic">{collection}</span>}
        </div>
      </header>
      <main id="room" className="mx-auto max-w-7xl px-6 py-8">
        <Outlet key={collection} />
      </main>
    </div>
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
