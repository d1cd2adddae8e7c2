import { type FormEvent, useState } from "react"

import type { Schemas } from "../../api/client"
import { useAddPerson, useChangePerson, usePeople, useRemovePerson } from "../../api/access"
import { Button } from "../../parts/button"
import { Confirm } from "../../parts/confirm"
import { Field } from "../../parts/field"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { KeyList } from "./keys"
import { may, since } from "./may"

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
  if (people.isPending) return <Waiting what="Looking up who may come in…" />
  if (people.isError) return <Failure error={people.error} />
  return (
    <section>
      <h1 className="text-3xl">People</h1>
      <p className="mt-2 max-w-prose text-quiet">They sign in with name and passphrase. What they may do is said in each collection&apos;s settings.</p>
      {people.data.length === 0 && <Empty title="Nobody yet">Let the first person in below.</Empty>}
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
            {person.administrator ? "Make no longer administrator" : "Make administrator"}
          </button>
          <Confirm
            trigger={<button type="button" className="text-brick underline">Shut out</button>}
            title={`Shut ${person.name} out?`}
            text="Their sessions end at once, and the conversations that they kept are removed."
            action="Shut out"
            onConfirm={() => remove.mutate(person.name)}
          />
        </span>
      </div>
      <p className="figures text-quiet">
        {may(person)}. Last here: {since(person.used)}.
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
      <h2 className="text-xl">Let a person in</h2>
      <Field label="Name" value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
      <Field
        label="First passphrase"
        hint="Twelve characters at least. They change it when they have signed in."
        type="password"
        value={passphrase}
        onChange={(e) => setPassphrase(e.target.value)}
        autoComplete="new-password"
      />
      <Button kind="main" type="submit" disabled={!name.trim() || !passphrase || add.isPending}>
        Let in
      </Button>
      {add.isError && <Failure error={add.error} />}
    </form>
  )
}
