import { Link } from "react-router"

import { useSetups } from "../../api/accuracy"
import { useRun } from "../../api/service"
import { useCollection } from "../../api/queries"
import { Bar } from "../../parts/bar"
import { Button } from "../../parts/button"
import { Confirm } from "../../parts/confirm"
import { Failure } from "../../parts/notice"
import { plural, size, t } from "../../words"
import { setupWords } from "../accuracy/setup-words"

// Index says what answers are made with, and checks and mends the index that they come from.
export function Index({ collection }: { collection: string }) {
  const setups = useSetups(collection)
  const c = useCollection(collection)
  return (
    <>
      <section>
        <h1 className="text-2xl">{t("Set-up")}</h1>
        {setups.data && <p className="figures mt-2 first-letter:uppercase">{setupWords(setups.data.live)}.</p>}
        <p className="mt-2">
          <Link to={`/c/${collection}/accuracy/setups`} className="text-leaf underline underline-offset-4">
            {t("Try another beside it, measure both and promote the better one")}
          </Link>
        </p>
      </section>
      <section className="mt-10 space-y-4">
        <h2 className="text-xl">{t("Index")}</h2>
        {c && (
          <p className="figures text-quiet">
            {[plural(c.passages, "{n} passage|{n} passages"), t("from {bytes} of documents", { bytes: size(c.bytes) }), c.languages.join(", ")].filter(Boolean).join(", ")}
          </p>
        )}
        <Check collection={collection} />
        <Rebuild collection={collection} />
      </section>
    </>
  )
}

function Check({ collection }: { collection: string }) {
  const { run, start } = useRun<{ problems: string[] }>(`/collections/${collection}/index/check`, "checked")
  return (
    <div>
      <Button disabled={run?.running} onClick={start}>
        {t("Check the index")}
      </Button>
      <div role="status">
        {run?.running && <Bar done={run.done} of={run.all} label={t("checked")} />}
        {run?.result?.problems.length === 0 && <p className="mt-2 text-leaf">{t("The index is whole.")}</p>}
        {run?.result?.problems.map((p) => (
          <p key={p} className="mt-2 text-brick">
            {p}
          </p>
        ))}
      </div>
      {run?.problem && <Failure error={run.problem} />}
    </div>
  )
}

function Rebuild({ collection }: { collection: string }) {
  const { run, start } = useRun(`/collections/${collection}/index/rebuild`, "rebuilt")
  return (
    <div>
      <Confirm
        trigger={<Button disabled={run?.running}>{t("Rebuild the index")}</Button>}
        title={t("Rebuild the index?")}
        text={t("It is made from the pages that are kept. Questions are answered from the old one until it is done.")}
        action={t("Rebuild it")}
        onConfirm={start}
      />
      <div role="status">
        {run?.running && <Bar done={run.done} of={run.all} label={t("made")} />}
        {run?.result !== undefined && <p className="mt-2 text-leaf">{t("The index was rebuilt.")}</p>}
      </div>
      {run?.problem && <Failure error={run.problem} />}
    </div>
  )
}
