import { useParams } from "react-router"

import { useDropTrial, usePromote, usePutBack, useSetups } from "../../api/accuracy"
import type { Schemas } from "../../api/client"
import { Button } from "../../parts/button"
import { Confirm } from "../../parts/confirm"
import { Failure, Waiting } from "../../parts/notice"
import { plural, t, when } from "../../words"
import { AskBoth } from "./ask-both"
import { setupWords } from "./setup-words"
import { TrialForm } from "./trial-form"

// Setups shows what answers are made with, trials of others beside it, and those that were in use.
export function Setups() {
  const { collection = "" } = useParams()
  const setups = useSetups(collection)
  if (setups.isPending) return <Waiting what={t("Looking up the set-ups…")} />
  if (setups.isError) return <Failure error={setups.error} />
  const { live, trials, past } = setups.data
  return (
    <div className="max-w-5xl">
      <h1 className="text-3xl">{t("Set-ups")}</h1>
      <p className="mt-2 max-w-prose text-quiet">
        {t("A trial has an index of its own over the same pages. Readers meet it only when it is promoted; measure it first, and compare.")}
      </p>
      <section className="mt-6 rounded-lg border border-leaf bg-sheet px-5 py-4">
        <h2 className="text-xl">{t("Live")}</h2>
        <p className="figures first-letter:uppercase">{setupWords(live)}.</p>
      </section>
      {trials.map((one) => (
        <Trial key={one.name} trial={one} collection={collection} />
      ))}
      <TrialForm key={JSON.stringify(live)} collection={collection} live={live} />
      {trials.some((one) => one.ready) && <AskBoth collection={collection} trials={trials.filter((one) => one.ready).map((one) => one.name)} />}
      {past.length > 0 && <Past past={past} collection={collection} />}
    </div>
  )
}

function Trial({ trial: one, collection }: { trial: Schemas["Trial"]; collection: string }) {
  const promote = usePromote(collection)
  const drop = useDropTrial(collection)
  return (
    <section className="mt-4 rounded-lg border border-line bg-sheet px-5 py-4">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-xl">{one.name}</h2>
        <span className="text-sm text-quiet">
          {one.ready ? plural(one.passages, "{n} passage|{n} passages") : t("being made")}
          {one.outdated && t("; documents have changed, so it is made anew before it is used")}
        </span>
        <span className="ml-auto flex gap-3">
          <Confirm
            trigger={<Button disabled={!one.ready || promote.isPending}>{t("Promote")}</Button>}
            title={t("Make {name} the live set-up?", { name: one.name })}
            text={t("Readers’ questions are answered with it from then on. The set-up before can be put back.")}
            action={t("Promote")}
            onConfirm={() => promote.mutate(one.name)}
          />
          <Button disabled={drop.isPending} onClick={() => drop.mutate(one.name)}>
            {t("Discard")}
          </Button>
        </span>
      </div>
      <p className="figures mt-1 first-letter:uppercase">{setupWords(one.setup)}.</p>
      {(promote.isError || drop.isError) && <Failure error={promote.error ?? drop.error} />}
    </section>
  )
}

function Past({ past, collection }: { past: Schemas["PastSetup"][]; collection: string }) {
  const back = usePutBack(collection)
  return (
    <section className="mt-10">
      <h2 className="text-xl">{t("Earlier")}</h2>
      {back.isError && <Failure error={back.error} />}
      <ul className="mt-2 divide-y divide-line border-y border-line">
        {past.map((p) => (
          <li key={p.version} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <span className="figures text-quiet">{p.version}</span>
            <span className="grow first-letter:uppercase">
              {t("{setup}; until {when}, when {why}", { setup: setupWords(p.setup), when: when(p.since), why: p.why })}
            </span>
            <Button disabled={back.isPending} onClick={() => back.mutate(p.version)}>
              {t("Put back")}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
