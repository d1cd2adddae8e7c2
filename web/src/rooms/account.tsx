import { type FormEvent, useState } from "react"

import { useSession, useSetPassphrase } from "../api/access"
import { Button } from "../parts/button"
import { Field } from "../parts/field"
import { Failure } from "../parts/notice"
import { t } from "../words"
import { inCollection } from "./people/may"

// Account is where people see what they may do, and change their passphrase.
export default function Account() {
  const session = useSession()
  const set = useSetPassphrase()
  const [current, setCurrent] = useState("")
  const [next, setNext] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    set.mutate({ current, new: next })
  }
  const rights = Object.entries(session.data?.rights ?? {})
  return (
    <div className="max-w-md space-y-8">
      <section>
        <h1 className="text-3xl">{session.data?.name}</h1>
        {session.data?.administrator && <p className="mt-2 text-quiet">{t("You are an administrator, and may do everything.")}</p>}
        <ul className="mt-2 text-quiet">
          {rights.map(([collection, right]) => (
            <li key={collection}>
              {inCollection(right, collection)}
            </li>
          ))}
        </ul>
      </section>
      {session.data?.kind === "person" && (
        <form onSubmit={submit} className="space-y-4">
          <h2 className="text-xl">{t("Change your passphrase")}</h2>
          <Field label={t("Current passphrase")} type="password" value={current} onChange={(e) => setCurrent(e.target.value)} autoComplete="current-password" />
          <Field
            label={t("New passphrase")}
            hint={t("Twelve characters at least. You sign in again with it, everywhere.")}
            type="password"
            value={next}
            onChange={(e) => setNext(e.target.value)}
            autoComplete="new-password"
          />
          <Button kind="main" type="submit" disabled={!current || !next || set.isPending}>
            {t("Change it")}
          </Button>
          {set.isError && <Failure error={set.error} />}
        </form>
      )}
    </div>
  )
}
