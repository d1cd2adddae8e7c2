import { Trash2 } from "lucide-react"
import { type FormEvent, useState } from "react"

import { type Right, useRights, useSetRight } from "../../api/access"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { field } from "../../parts/field"
import { Failure, Waiting } from "../../parts/notice"
import { t } from "../../words"

// rights are what people and keys may do, from the least.
export const rights: Record<Right, string> = {
  reader: t("reader: asks, sees pages"),
  editor: t("editor: changes documents too"),
  owner: t("owner: everything in it"),
}

// Rights is where an owner says who may do what in a collection, and who sees what is asked.
export function Rights({ collection }: { collection: string }) {
  const holders = useRights(collection)
  const set = useSetRight(collection)
  if (holders.isPending) return <Waiting what={t("Looking up who may do what…")} />
  if (holders.isError) return <Failure error={holders.error} />
  return (
    <section>
      <h1 className="text-2xl">{t("Who may do what")}</h1>
      <p className="mt-2 max-w-prose text-quiet">{t("Administrators may do everything, and are not listed. To all others with no right here this collection does not exist.")}</p>
      {holders.data.length > 0 && (
        <table className="mt-5 w-full text-left">
          <thead className="text-sm text-quiet">
            <tr>
              <th className="py-1 font-normal">{t("Name")}</th>
              <th className="font-normal">{t("What they may do")}</th>
              <th><span className="sr-only">{t("Take away")}</span></th>
            </tr>
          </thead>
          <tbody>
            {holders.data.map((h) => (
              <tr key={h.name} className="border-t border-line">
                <td className="py-1.5 pr-4 font-medium">
                  {h.name}
                  {h.kind === "key" && <span className="font-normal text-quiet">{" "}{t("(key)")}</span>}
                </td>
                <td>
                  <Choice label={t("Right of {name}", { name: h.name })} value={h.right} onChange={(right) => set.mutate({ holder: h.name, right })} />
                </td>
                <td className="text-right">
                  <button type="button" aria-label={t("Take {name}’s right away", { name: h.name })} onClick={() => set.mutate({ holder: h.name, right: "" })} className="p-1 text-quiet hover:text-brick">
                    <Trash2 aria-hidden className="size-4" />
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Give onGive={(holder, right) => set.mutate({ holder, right })} busy={set.isPending} />
      {set.isError && <Failure error={set.error} />}
    </section>
  )
}

function Choice({ label, value, onChange }: { label: string; value: Right; onChange: (right: Right) => void }) {
  return <Choose quiet label={label} value={value} onChange={(right) => onChange(right as Right)} of={Object.entries(rights)} />
}

function Give({ onGive, busy }: { onGive: (holder: string, right: Right) => void; busy: boolean }) {
  const [name, setName] = useState("")
  const [right, setRight] = useState<Right>("reader")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    onGive(name.trim(), right)
    setName("")
  }
  return (
    <form onSubmit={submit} className="mt-5 flex flex-wrap items-end gap-3">
      <label className="text-sm">
        {t("Name of a person or a key")}
        <input value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" className={`${field} block w-52 text-base`} />
      </label>
      <Choice label={t("What they may do")} value={right} onChange={setRight} />
      <Button kind="main" type="submit" disabled={!name.trim() || busy}>
        {t("Give the right")}
      </Button>
    </form>
  )
}
