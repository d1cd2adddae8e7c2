import { NavLink, Route, Routes, useParams } from "react-router"

import { ComparisonRoom } from "./comparison"
import { Jobs } from "./jobs"
import { JudgingRoom } from "./judging"
import { MeasurementRoom } from "./measurement"
import { Measurements } from "./measurements"
import { QuestionSetRoom } from "./question-set"
import { QuestionSets } from "./question-sets"
import { Readers } from "./readers"
import { Setups } from "./setups"
import { Sweeps } from "./sweeps"
import { t } from "../../words"

const parts = [
  ["", t("Measurements")],
  ["questions", t("Questions")],
  ["readers", t("From readers")],
  ["setups", t("Set-ups")],
  ["sweeps", t("Sweeps")],
] as const

// Accuracy is where answers become a number, and a change is tried before anybody meets it.
export default function Accuracy() {
  const { collection = "" } = useParams()
  return (
    <div>
      <nav aria-label={t("Accuracy")} className="mb-6 flex flex-wrap gap-x-6 border-b border-line">
        {parts.map(([path, label]) => (
          <NavLink
            key={path}
            to={`/c/${collection}/accuracy${path && "/" + path}`}
            end={path === ""}
            className={({ isActive }) => `-mb-px border-b-2 py-1.5 ${isActive ? "border-ochre text-ink" : "border-transparent text-quiet hover:text-ink"}`}
          >
            {label}
          </NavLink>
        ))}
      </nav>
      <Jobs collection={collection} />
      <Routes>
        <Route index element={<Measurements />} />
        <Route path="questions" element={<QuestionSets />} />
        <Route path="questions/:set" element={<QuestionSetRoom />} />
        <Route path="readers" element={<Readers />} />
        <Route path="setups" element={<Setups />} />
        <Route path="sweeps" element={<Sweeps />} />
        <Route path="compare/:before/:after" element={<ComparisonRoom />} />
        <Route path="judge/:measurements" element={<JudgingRoom />} />
        <Route path=":measurement" element={<MeasurementRoom />} />
      </Routes>
    </div>
  )
}
