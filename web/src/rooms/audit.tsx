import { useDeferredValue, useState } from "react"

import { useAudit, useVerifyAudit } from "../api/access"
import { Button } from "../parts/button"
import { Field } from "../parts/field"
import { Empty, Failure, Waiting } from "../parts/notice"
import { t, when } from "../words"

// Audit shows who did what, and checks that nothing was changed in it.
export default function Audit() {
  const [who, setWho] = useState("")
  const [collection, setCollection] = useState("")
  const verify = useVerifyAudit()
  const state = verify.data
  return (
    <div>
      <h1 className="text-3xl">{t("Audit")}</h1>
      <p className="mt-2 max-w-prose text-quiet">
        {t("Each change, each document taken out, each question and each attempt that was refused. Each entry holds the hash of the one before it, so that a changed one shows.")}
      </p>
      <div className="mt-5 flex flex-wrap items-end gap-4">
        <Field label={t("Who")} value={who} onChange={(e) => setWho(e.target.value)} autoComplete="off" />
        <Field label={t("Collection")} value={collection} onChange={(e) => setCollection(e.target.value)} autoComplete="off" />
        <Button onClick={() => verify.mutate()} disabled={verify.isPending}>
          {t("Check that it is whole")}
        </Button>
        <a href="/api/v1/audit?format=jsonl" download="audit.jsonl" className="py-1.5 text-leaf underline">
          {t("All of it as JSON Lines")}
        </a>
      </div>
      {state?.whole && (
        <p role="status" className="figures mt-3 break-all text-leaf">
          {t("Whole: entries {first} to {last}. Hash of the last: {sum}", { first: state.first, last: state.last, sum: state.sum })}
        </p>
      )}
      {state && !state.whole && <Failure error={new Error(state.problem)} />}
      {verify.isError && <Failure error={verify.error} />}
      <Entries who={useDeferredValue(who.trim())} collection={useDeferredValue(collection.trim())} />
    </div>
  )
}

function Entries({ who, collection }: { who: string; collection: string }) {
  const audit = useAudit(who, collection)
  if (audit.isPending) return <Waiting what={t("Reading the audit…")} />
  if (audit.isError) return <Failure error={audit.error} />
  if (audit.data.length === 0) return <Empty title={t("Nothing found")}>{t("Nobody of this name did anything, or nothing happened in such a collection.")}</Empty>
  return (
    <div className="mt-6 overflow-x-auto" tabIndex={0} role="region" aria-label={t("Entries")}>
      <table className="figures w-full text-left">
        <thead className="text-sm text-quiet">
          <tr>
            {[t("When"), t("Who"), t("Address"), t("Action"), t("In"), t("Object"), t("Outcome")].map((head) => (
              <th key={head} className="py-1 pr-4 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {audit.data.map((e) => (
            <tr key={e.number} className="border-t border-line align-baseline">
              <td className="py-1.5 pr-4 whitespace-nowrap">{when(e.at)}</td>
              <td className="pr-4">{e.who || t("somebody on this machine")}</td>
              <td className="pr-4 text-quiet">{e.address}</td>
              <td className="pr-4">{inWords(e.operation)}</td>
              <td className="pr-4">{e.collection}</td>
              <td className="max-w-md pr-4 break-words">{e.question ? `“${e.question}”` : e.object}</td>
              <td className={e.outcome >= 400 ? "text-brick" : ""}>{e.outcome}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

// inWords takes an operation's name apart: "removePerson" is "remove person".
const inWords = (operation: string) => operation.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
