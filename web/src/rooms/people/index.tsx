import { type FormEvent, useState } from "react"

import type { Schemas } from "../../api/client"
import { useAddPerson, useChangePerson, usePeople, useRemovePerson } from "../../api/access"
import { Button } from "../../parts/button"
import { Confirm } from "../../parts/confirm"
import { Field } from "../../parts/field"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { KeyList } from "./keys"
import { may, since } from "./may"
import { t } from "../../words"

// People is where an administrator says who may come in.
export default function People() {
  return (
    <div className="grid gap-x-16 gap-y-12 lg:grid-cols-2">
      <PeopleList />
      <KeyList />
    </div>
  )
}

function PeopleList() {
  const people = usePeople()
  if (people.isPending) return <Waiting what={t("Looking up the people…")} />
  if (people.isError) return <Failure error={people.error} />
  return (
    <section>
      <h1 className="text-3xl">{t("People")}</h1>
      <p className="mt-2 max-w-prose text-quiet">{t("They sign in with name and passphrase. What they may do is said in each collection’s settings.")}</p>
      {people.data.length === 0 && <Empty title={t("No people yet")}>{t("Add the first person below.")}</Empty>}
      <ul className="mt-6 divide-y divide-line border-y border-line">
        {people.data.map((p) => (
          <Person key={p.name} person={p} />
        ))}
      </ul>
      <AddPerson />
    </section>
  )
}

function Person({ person }: { person: Schemas["Person"] }) {
  const remove = useRemovePerson()
  const change = useChangePerson()
  const error = remove.error ?? change.error
  return (
    <li className="py-3">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <span className="font-medium">{person.name}</span>
        <span className="flex items-baseline gap-4 text-sm">
          <button type="button" className="text-leaf underline" onClick={() => change.mutate({ person: person.name, administrator: !person.administrator })}>
            {person.administrator ? t("Remove as administrator") : t("Make administrator")}
          </button>
          <Confirm
            trigger={<button type="button" className="text-brick underline">{t("Remove")}</button>}
            title={t("Remove {name}?", { name: person.name })}
            text={t("Their sessions end at once, and the conversations that they kept are removed.")}
            action={t("Remove")}
            onConfirm={() => remove.mutate(person.name)}
          />
        </span>
      </div>
      <p className="figures text-quiet">
        {t("{rights}. Last here: {day}.", { rights: may(person), day: since(person.used) })}
      </p>
      {error && <Failure error={error} />}
    </li>
  )
}

function AddPerson() {
  const add = useAddPerson()
  const [name, setName] = useState("")
  const [passphrase, setPassphrase] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    add.mutate(
      { name: name.trim(), passphrase },
      {
        onSuccess: () => {
          setName("")
          setPassphrase("")
        },
      },
    )
  }
  return (
    <form onSubmit={submit} className="mt-6 space-y-4">
      <h2 className="text-xl">{t("Add a person")}</h2>
      <Field label={t("Name")} value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
      <Field
        label={t("First passphrase")}
        hint={t("Twelve characters at least. They change it when they have signed in.")}
        type="password"
        value={passphrase}
        onChange={(e) => setPassphrase(e.target.value)}
        autoComplete="new-password"
      />
      <Button kind="main" type="submit" disabled={!name.trim() || !passphrase || add.isPending}>
        {t("Add")}
      </Button>
      {add.isError && <Failure error={add.error} />}
    </form>
  )
}
