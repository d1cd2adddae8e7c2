import { Navigate, NavLink, Route, Routes, useParams } from "react-router"

import { useOwns } from "../../api/queries"
import { t } from "../../words"
import { Glossary } from "./glossary"
import { Hooks } from "./hooks"
import { Index } from "./in-use"
import { Lessons } from "./lessons"
import { Rights } from "./rights"
import { Sharing } from "./sharing"
import { Style } from "./style"

const parts = [
  ["words", t("Words"), false],
  ["lessons", t("Lessons"), false],
  ["style", t("Answers"), true],
  ["index", t("Set-up and index"), true],
  ["access", t("People and rights"), true],
  ["programs", t("Other programs"), true],
] as const

// Settings is where a collection is taught its own language and manner, and who may do what.
export default function Settings() {
  const { collection = "" } = useParams()
  const owns = useOwns(collection)
  const at = `/c/${collection}/settings`
  return (
    <div className="grid gap-x-10 gap-y-6 md:grid-cols-[11rem_minmax(0,1fr)]">
      <nav aria-label={t("Settings")} className="flex flex-wrap gap-x-5 gap-y-1 md:flex-col">
        {parts
          .filter(([, , owners]) => owns || !owners)
          .map(([path, name]) => (
            <NavLink key={path} to={`${at}/${path}`} className={({ isActive }) => `border-b-2 py-1 md:border-b-0 md:border-l-2 md:pl-3 ${isActive ? "border-ochre text-ink" : "border-transparent text-quiet hover:text-ink md:border-line"}`}>
              {name}
            </NavLink>
          ))}
      </nav>
      <div className="max-w-3xl min-w-0">
        <Routes>
          <Route index element={<Navigate to={`${at}/words`} replace />} />
          <Route path="words" element={<Glossary collection={collection} />} />
          <Route path="lessons" element={<Lessons collection={collection} />} />
          {owns && <Route path="style" element={<Style collection={collection} />} />}
          {owns && <Route path="index" element={<Index collection={collection} />} />}
          {owns && <Route path="programs" element={<Hooks collection={collection} />} />}
          {owns && (
            <Route
              path="access"
              element={
                <>
                  <Rights collection={collection} />
                  <Sharing collection={collection} />
                </>
              }
            />
          )}
        </Routes>
      </div>
    </div>
  )
}
