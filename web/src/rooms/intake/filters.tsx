import { ToggleGroup } from "radix-ui"

import type { Document } from "../../api/client"
import { Choose } from "../../parts/choose"
import { field } from "../../parts/field"
import { number, t } from "../../words"
import { inStage, type Stage } from "./states"

type Props = {
  all: Document[]
  stage: Stage
  tag: string
  words: string
  onStage: (stage: Stage) => void
  onTag: (tag: string) => void
  onWords: (words: string) => void
}

// Filters keep the list to documents in a state, with a tag, or with some words.
export function Filters({ all, stage, tag, words, onStage, onTag, onWords }: Props) {
  const tags = [...new Set(all.flatMap((d) => d.tags))].sort()
  const stages: [Stage, string][] = [
    ["", t("All")],
    ["under", t("On the way in")],
    ["failed", t("Failed")],
    ["ready", t("Ready")],
  ]
  return (
    <div className="flex flex-wrap items-center gap-x-5 gap-y-3">
      <ToggleGroup.Root type="single" value={stage || "all"} onValueChange={(v) => onStage(v === "all" ? "" : (v as Stage))} aria-label={t("Show")} className="figures flex flex-wrap overflow-hidden rounded-md border border-line">
        {stages.map(([value, name]) => (
          <ToggleGroup.Item key={value} value={value || "all"} className="px-3 py-1.5 hover:bg-sheet data-[state=on]:bg-leaf data-[state=on]:text-on-leaf">
            {name} {number(all.filter((d) => inStage(d, value)).length)}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      <input type="search" aria-label={t("Find in names, titles and tags")} placeholder={t("Find")} value={words} onChange={(e) => onWords(e.target.value)} className={`${field} w-56`} />
      {(tags.length > 0 || tag) && <Choose quiet label={t("Tag")} value={tag} onChange={onTag} of={[["", t("Any tag")], ...tags.map((one) => [one, one] as const)]} />}
    </div>
  )
}
