import type { Schemas } from "../../api/client"
import { Choose } from "../../parts/choose"
import { t } from "../../words"

type Set = Schemas["QuestionSet"]

// measurable are the sets with questions that a person has accepted.
export const measurable = (sets: Set[] = []) => sets.filter((s) => s.questions > s.drafts)

type Props = { sets: Set[]; value: string; onPick: (name: string) => void; className?: string }

// SetPicker picks the question set that is asked.
export function SetPicker({ sets, value, onPick, className = "" }: Props) {
  return <Choose label={t("Question set")} value={value || (sets[0]?.name ?? "")} onChange={onPick} className={className} of={sets.map((s) => [s.name, `${s.name} (${s.questions - s.drafts})`])} />
}
