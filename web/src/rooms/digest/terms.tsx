import type { Digest } from "../../api/digest"
import { useEdits, useGlossary, useSetGlossary } from "../../api/queries"
import { tell } from "../../parts/toast"
import { t } from "../../words"
import { Edit } from "./edit"
import { type At, Line } from "./line"

// Terms are what a document defines and writes short; abbreviations can be taken over into the
// collection's glossary.
export function Terms({ digest, collection, document, shown, onShow }: { digest: Digest } & At) {
  const edits = useEdits(collection)
  const glossary = useGlossary(collection)
  const set = useSetGlossary(collection)
  if (digest.terms.length === 0) return <p className="text-quiet">{t("The document defines no terms.")}</p>
  const entries = glossary.data?.entries ?? []
  const known = (term: string) => [...entries, ...(glossary.data?.found ?? [])].some((e) => e.term === term)
  const take = (term: string, means: string) => set.mutate([...entries, { kind: "abbreviation", term, means }], { onSuccess: () => tell(t("{term} is in the glossary.", { term }), () => set.mutate(entries)) })
  return (
    <dl className="space-y-2">
      {digest.terms.map((term) => (
        <div key={term.id}>
          <dt className="flex flex-wrap items-baseline gap-x-3 px-2 font-semibold">
            {term.term}
            {term.short && edits && glossary.data && !known(term.term) && (
              <button type="button" onClick={() => take(term.term, term.means)} className="text-sm font-normal text-leaf underline underline-offset-4">
                {t("Take it over into the glossary")}
              </button>
            )}
          </dt>
          <dd>
            <Line quote={term.quote} shown={shown} onShow={onShow} after={<Edit collection={collection} document={document} line={term.id} text={term.means} />}>
              {term.means}
            </Line>
          </dd>
        </div>
      ))}
    </dl>
  )
}
