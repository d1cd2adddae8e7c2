import { useNavigate } from "react-router"

import { useAddDemo } from "../../api/documents"
import { Button } from "../../parts/button"
import { Failure } from "../../parts/notice"
import { t } from "../../words"
import { Create } from "./create"

// FirstSteps leads from an empty service to the first cited answer.
export function FirstSteps() {
  const add = useAddDemo()
  const go = useNavigate()
  return (
    <section aria-label={t("First steps")} className="rounded-lg border border-line bg-sheet px-6 py-6">
      <p className="font-serif text-xl">{t("No collection yet. Three steps lead to the first answer:")}</p>
      <ol className="mt-5 space-y-6">
        <Step n={1} title={t("Make a collection")} text={t("Lower-case letters, digits and dashes. It is part of the addresses that you send to colleagues.")}>
          <Create label={t("Its name")} />
        </Step>
        <Step n={2} title={t("Put documents in")} text={t("Drop them there, as many as you like. You watch each of them become ready, or see why not.")} />
        <Step n={3} title={t("Ask")} text={t("Each answer has the page beside it, with the lines that it comes from marked.")} />
      </ol>
      <p className="mt-6 flex flex-wrap items-center gap-4 border-t border-line pt-5">
        <span className="text-quiet">{t("No documents at hand?")}</span>
        <Button disabled={add.isPending} onClick={() => add.mutate(undefined, { onSuccess: (made) => void go(`/c/${made.name}/intake`) })}>
          {t("Try it with those of a made-up garden")}
        </Button>
      </p>
      {add.isError && <Failure error={add.error} />}
    </section>
  )
}

function Step({ n, title, text, children }: { n: number; title: string; text: string; children?: React.ReactNode }) {
  return (
    <li className="grid grid-cols-[2.5rem_minmax(0,1fr)]">
      <span className="figures font-serif text-2xl text-leaf">{n}</span>
      <div className="space-y-2">
        <h2 className="text-xl">{title}</h2>
        <p className="text-quiet">{text}</p>
        {children}
      </div>
    </li>
  )
}
