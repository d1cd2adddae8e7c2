import { type FormEvent, useState } from "react"

import { useTry } from "../../api/accuracy"
import type { Setup } from "../../api/client"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { Field } from "../../parts/field"
import { Failure } from "../../parts/notice"
import { t } from "../../words"

type Cut = NonNullable<Setup["recipe"]["passage"]["cut"]>
type By = NonNullable<Setup["recipe"]["retrieval"]>

// TrialForm makes a trial that begins as the live set-up.
export function TrialForm({ collection, live }: { collection: string; live: Setup }) {
  const make = useTry(collection)
  const [name, setName] = useState("")
  const [s, setS] = useState(live)
  const passage = s.recipe.passage
  const setPassage = (change: Partial<typeof passage>) => setS({ ...s, recipe: { ...s.recipe, passage: { ...passage, ...change } } })
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const overlap = Math.min(passage.overlap, Math.floor(passage.target / 2))
    make.mutate({ name, setup: { ...s, recipe: { ...s.recipe, passage: { ...passage, overlap } } } }, { onSuccess: () => setName("") })
  }
  return (
    <form onSubmit={submit} className="mt-8 rounded-lg border border-dashed border-line px-5 py-4" aria-label={t("New trial")}>
      <h2 className="text-xl">{t("Try another set-up")}</h2>
      <div className="mt-3 grid gap-4 sm:grid-cols-2 lg:grid-cols-4">
        <Field label={t("Name")} required pattern="[a-z0-9][a-z0-9._\-]*" title={t("Lower-case letters, digits, dots and dashes")} value={name} onChange={(e) => setName(e.target.value)} />
        <Choose label={t("Cut passages by")} value={passage.cut ?? "structure"} onChange={(cut) => setPassage({ cut: cut as Cut })} className="w-full" of={[["structure", t("structure")], ["words", t("words")], ["page", t("page")]]} />
        <Field label={t("Words of a passage")} type="number" min={20} max={2000} value={passage.target} onChange={(e) => setPassage({ target: Number(e.target.value) })} />
        <Field label={t("Words repeated")} type="number" min={0} value={passage.overlap} onChange={(e) => setPassage({ overlap: Number(e.target.value) })} />
        <Choose label={t("Found by")} value={s.recipe.retrieval || "both"} onChange={(by) => setS({ ...s, recipe: { ...s.recipe, retrieval: by as By } })} className="w-full" of={[["both", t("words and meaning")], ["words", t("words")], ["meaning", t("meaning")]]} />
        <Field label={t("Passages read")} type="number" min={1} max={50} value={s.passages || 12} onChange={(e) => setS({ ...s, passages: Number(e.target.value) })} />
        <Field label={t("Answer from")} type="number" min={0} max={1} step={0.05} value={s.certain || 0.6} onChange={(e) => setS({ ...s, certain: Number(e.target.value) })} />
        <div className="flex items-end">
          <Button type="submit" kind="main" disabled={make.isPending}>
            {t("Make the trial")}
          </Button>
        </div>
      </div>
      {make.isError && <Failure error={make.error} />}
    </form>
  )
}
