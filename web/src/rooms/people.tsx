import { type FormEvent, useState } from "react"

import type { Schemas } from "../api/client"
import { useAddPerson, useChangePerson, useCreateKey, useKeys, usePeople, useRemovePerson, useRevokeKey } from "../api/access"
import { useCollections } from "../api/queries"
import { Button } from "../parts/button"
import { Confirm } from "../parts/confirm"
import { Field, field } from "../parts/field"
import { Empty, Failure, Waiting } from "../parts/notice"

// People is where an administrator says who may come in.
export default function People() {
  return (
    <div className="grid gap-x-16 gap-y-12 lg:grid-cols-2">
      <PeopleList />
      <KeyList />
    </div>
  )
}

const day = (at?: string) => (at ? new Date(at).toLocaleDateString("en", { day: "numeric", month: "short", year: "numeric" }) : "never")

// may says in words what somebody has the right to.
function may(who: { administrator: boolean; rights: Schemas["Rights"] }) {
  if (who.administrator) return "Administrator: everything"
  const rights = Object.entries(who.rights).map(([collection, right]) => `${right} of ${collection}`)
  return rights.length > 0 ? rights.join(", ") : "No right yet; a collection's settings give one"
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
        {may(person)}. Last here: {day(person.used)}.
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

function KeyList() {
  const keys = useKeys()
  if (keys.isPending) return <Waiting what="Looking up the keys…" />
  if (keys.isError) return <Failure error={keys.error} />
  return (
    <section>
      <h2 className="text-3xl">Keys for programs</h2>
      <p className="mt-2 max-w-prose text-quiet">
        A program sends its key with each request, as <code>Authorization: Bearer</code>.
      </p>
      <ul className="mt-6 divide-y divide-line border-y border-line empty:hidden">
        {keys.data.map((k) => (
          <KeyRow key={k.name} value={k} />
        ))}
      </ul>
      <CreateKey />
    </section>
  )
}

function KeyRow({ value }: { value: Schemas["Key"] }) {
  const revoke = useRevokeKey()
  return (
    <li className="py-3">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <span className="font-medium">{value.name}</span>
        <Confirm
          trigger={<button type="button" className="text-sm text-brick underline">Revoke</button>}
          title={`Revoke the key ${value.name}?`}
          text="Programs that use it are refused from now on. It cannot be put back."
          action="Revoke"
          onConfirm={() => revoke.mutate(value.name)}
        />
      </div>
      <p className="figures text-quiet">
        {may(value)}. Expires: {day(value.expires)}. Last used: {day(value.used)}.
      </p>
      {revoke.isError && <Failure error={revoke.error} />}
    </li>
  )
}

function CreateKey() {
  const create = useCreateKey()
  const collections = useCollections()
  const [name, setName] = useState("")
  const [collection, setCollection] = useState("")
  const [right, setRight] = useState<Schemas["Right"]>("reader")
  const [expires, setExpires] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    create.mutate(
      { name: name.trim(), rights: { [collection]: right }, expires: expires ? new Date(`${expires}T23:59:59`).toISOString() : undefined },
      { onSuccess: () => setName("") },
    )
  }
  return (
    <form onSubmit={submit} className="mt-6 space-y-4">
      <h3 className="font-serif text-xl">Make a key</h3>
      <Field label="Name" hint="Of the program that will use it" value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
      <div className="flex flex-wrap gap-4">
        <label>
          In the collection
          <select value={collection} onChange={(e) => setCollection(e.target.value)} className={`${field} mt-1 block`}>
            <option value="">choose one</option>
            {collections.data?.map((c) => <option key={c.name}>{c.name}</option>)}
          </select>
        </label>
        <label>
          With the right of
          <select value={right} onChange={(e) => setRight(e.target.value as Schemas["Right"])} className={`${field} mt-1 block`}>
            <option value="reader">reader: ask, see pages</option>
            <option value="editor">editor: change documents too</option>
            <option value="owner">owner: everything in it</option>
          </select>
        </label>
        <Field label="Until" type="date" value={expires} onChange={(e) => setExpires(e.target.value)} />
      </div>
      <Button kind="main" type="submit" disabled={!name.trim() || !collection || create.isPending}>
        Make
      </Button>
      {create.isError && <Failure error={create.error} />}
      {create.data?.secret && (
        <div role="status" className="rounded-md border border-leaf px-4 py-3">
          <p>The key {create.data.name}. Copy it now; it is not shown again.</p>
          <code className="mt-1 block break-all select-all">{create.data.secret}</code>
        </div>
      )}
    </form>
  )
}
