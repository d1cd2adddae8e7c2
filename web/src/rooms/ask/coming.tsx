import type { Asking } from "../../api/asking"
import { Button } from "../../parts/button"
import { Failure } from "../../parts/notice"
import { pageName } from "../../parts/place"
import { t } from "../../words"

// Coming is a question that is being answered: the places that are read, then what stands.
export function Coming({ asking, onStop, onForget }: { asking: Asking; onStop: () => void; onForget: () => void }) {
  const places = [...new Set(asking.found.map((f) => `${f.document}, ${pageName(f.pages[0] ?? 1, "")}`))]
  return (
    <li className="border-t border-line pt-5">
      <h2 className="text-xl">{asking.question}</h2>
      {asking.problem ? (
        <div className="mt-3 space-y-3">
          <Failure error={asking.problem} />
          <Button onClick={onForget}>{t("Close")}</Button>
        </div>
      ) : (
        <div className="mt-3 flex flex-wrap items-center gap-4">
          <p role="status" className="text-quiet">
            {places.length > 0 ? t("Reading {places}…", { places: places.join("; ") }) : t("Looking through the documents…")}
          </p>
          <Button onClick={onStop}>{t("Stop")}</Button>
        </div>
      )}
      {asking.draft && !asking.statements.length && <p className="mt-3 max-w-prose font-serif text-lg text-quiet italic">{asking.draft}</p>}
      {asking.statements.map((s, i) => (
        <p key={i} className="mt-3 max-w-prose font-serif text-lg">
          {s.text}
        </p>
      ))}
    </li>
  )
}
