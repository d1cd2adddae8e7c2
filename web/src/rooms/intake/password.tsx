import { type FormEvent, useState } from "react"

import type { Document } from "../../api/client"
import { useUnlock } from "../../api/sources"
import { Button } from "../../parts/button"
import { field } from "../../parts/field"
import { Failure } from "../../parts/notice"
import { t } from "../../words"

// Password asks for that of a locked file. It is used once, and kept nowhere.
export function Password({ document: d, collection }: { document: Document; collection: string }) {
  const unlock = useUnlock(collection)
  const [password, setPassword] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    unlock.mutate({ document: d.id, password })
  }
  return (
    <form onSubmit={submit} className="mt-1 flex flex-wrap items-center gap-2 text-sm">
      <input type="password" aria-label={t("Password of {name}", { name: d.name })} placeholder={t("Password")} autoComplete="off" value={password} onChange={(e) => setPassword(e.target.value)} className={`${field} w-48`} />
      <Button type="submit" disabled={!password || unlock.isPending}>
        {t("Unlock")}
      </Button>
      {unlock.isError && <Failure error={unlock.error} />}
    </form>
  )
}
