import { type FormEvent, useState } from "react"

import { useCreateKey, useKeys, useRevokeKey } from "../../api/access"
import type { Schemas } from "../../api/client"
import { useCollections } from "../../api/queries"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { Confirm } from "../../parts/confirm"
import { Field } from "../../parts/field"
import { Failure, Waiting } from "../../parts/notice"
import { rights } from "../settings/rights"
import { may, since } from "./may"
import { t } from "../../words"

// KeyList is the keys by which programs come in.
export function KeyList() {
  const keys = useKeys()
  if (keys.isPending) return <Waiting what={t("Looking up the keys…")} />
  if (keys.isError) return <Failure error={keys.error} />
  return (
    <section>
      <h2 className="text-3xl">{t("Keys for programs")}</h2>
      <p className="mt-2 max-w-prose text-quiet">
        {t("A program sends its key with each request, as {header}.", { header: "Authorization: Bearer …" })}
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
          trigger={<button type="button" className="text-sm text-brick underline">{t("Revoke")}</button>}
          title={t("Revoke the key {name}?", { name: value.name })}
          text={t("Programs that use it are refused from now on. It cannot be put back.")}
          action={t("Revoke")}
          onConfirm={() => revoke.mutate(value.name)}
        />
      </div>
      <p className="figures text-quiet">
        {t("{rights}. Expires: {expires}. Last used: {used}.", { rights: may(value), expires: since(value.expires), used: since(value.used) })}
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
      <h3 className="font-serif text-xl">{t("Make a key")}</h3>
      <Field label={t("Name")} hint={t("Of the program that will use it")} value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
      <div className="flex flex-wrap gap-4">
        <Choose label={t("In the collection")} value={collection} onChange={setCollection} of={[["", t("choose one")], ...(collections.data ?? []).map((c) => [c.name, c.name] as const)]} />
        <Choose label={t("With the right of")} value={right} onChange={(r) => setRight(r as Schemas["Right"])} of={Object.entries(rights)} />
        <Field label={t("Until")} type="date" value={expires} onChange={(e) => setExpires(e.target.value)} />
      </div>
      <Button kind="main" type="submit" disabled={!name.trim() || !collection || create.isPending}>
        {t("Make the key")}
      </Button>
      {create.isError && <Failure error={create.error} />}
      {create.data?.secret && (
        <div role="status" className="rounded-md border border-leaf px-4 py-3">
          <p>{t("The key {name}. Copy it now; it is not shown again.", { name: create.data.name })}</p>
          <code className="mt-1 block break-all select-all">{create.data.secret}</code>
        </div>
      )}
    </form>
  )
}
