import { useSuggestions } from "../../api/digest"
import { t } from "../../words"

// Suggested are a few questions to begin with, which the documents answer.
export function Suggested({ collection, onAsk }: { collection: string; onAsk: (question: string) => void }) {
  const suggested = useSuggestions(collection)
  if (!suggested.data?.length) return null
  return (
    <section aria-label={t("Questions to begin with")} className="mt-8">
      <h2 className="text-sm text-quiet">{t("For example")}</h2>
      <ul className="mt-1 space-y-1">
        {suggested.data.map((q) => (
          <li key={q.question}>
            <button type="button" onClick={() => onAsk(q.question)} className="text-left text-leaf underline underline-offset-4">
              {q.question}
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}
