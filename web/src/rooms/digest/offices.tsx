import type { Digest } from "../../api/digest"
import { t } from "../../words"
import { Edit } from "./edit"
import { type At, Line } from "./line"

// Offices are the people whom a document names, with what each must do and does.
export function Offices({ digest, collection, document, shown, onShow }: { digest: Digest } & At) {
  if (digest.offices.length === 0) return <p className="text-quiet">{t("The document says of nobody what they do.")}</p>
  return (
    <ul className="space-y-5">
      {digest.offices.map((o) => (
        <li key={o.name}>
          <h2 className="text-lg">{o.name}</h2>
          <ul>
            {[...digest.duties.filter((d) => o.duties.includes(d.id)).map((d) => d.quote), ...o.tasks].map((q, i) => (
              <li key={i}>
                <Line quote={q} shown={shown} onShow={onShow} after={q.id && <Edit collection={collection} document={document} line={q.id} text={q.text} />} />
              </li>
            ))}
          </ul>
        </li>
      ))}
    </ul>
  )
}
