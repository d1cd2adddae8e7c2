import type { FormEvent } from "react"
import { useNavigate } from "react-router"

import { useCreateCollection } from "../../api/queries"
import { Button } from "../../parts/button"
import { useDraft } from "../../parts/draft"
import { field } from "../../parts/field"
import { Failure } from "../../parts/notice"
import { t } from "../../words"

// Create makes a collection and leads to its intake.
export function Create({ label = t("New collection") }: { label?: string }) {
  const [name, setName] = useDraft("collection's name")
  const create = useCreateCollection()
  const go = useNavigate()
  const submit = (event: FormEvent) => {
    event.preventDefault()
    create.mutate(name.trim(), {
      onSuccess: (made) => {
        setName("")
        void go(`/c/${made.name}/intake`)
      },
    })
  }
  return (
    <form onSubmit={submit} className="space-y-2">
      <label htmlFor="name" className="block font-medium">
        {label}
      </label>
      <div className="flex gap-3">
        <input id="name" value={name} onChange={(e) => setName(e.target.value)} placeholder={t("manuals")} autoComplete="off" className={`${field} w-72 min-w-0`} />
        <Button kind="main" type="submit" disabled={!name.trim() || create.isPending}>
          {t("Create")}
        </Button>
      </div>
      {create.isError && <Failure error={create.error} />}
    </form>
  )
}
