import type { Schemas } from "../../api/client"
import { field } from "../../parts/field"

type Set = Schemas["QuestionSet"]

// measurable are the sets with questions that a person has accepted.
export const measurable = (sets: Set[] = []) => sets.filter((s) => s.questions > s.drafts)

type Props = { sets: Set[]; value: string; onPick: (name: string) => void; className?: string }

// SetPicker picks the question set that is asked.
export function SetPicker({ sets, value, onPick, className = "" }: Props) {
  return (
    <label>
      Question set
      <select value={value} onChange={(e) => onPick(e.target.value)} className={`${field} mt-1 block ${className}`}>
        {sets.map((s) => (
          <option key={s.name} value={s.name}>
            {s.name} ({s.questions - s.drafts})
          </option>
        ))}
      </select>
    </label>
  )
}
