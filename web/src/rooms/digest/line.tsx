import type { ReactNode } from "react"

import type { Quote } from "../../api/digest"
import { pageName } from "../../parts/place"
import { t } from "../../words"

// At is where a part of a digest is shown: its document, and the quote whose page stands beside it.
export type At = { collection: string; document: string; shown: Quote | undefined; onShow: (quote: Quote) => void }

// Line is a line of a digest; pressed, it shows the page that it stands on.
export function Line({ quote, shown, onShow, children, after }: { quote: Quote; shown: Quote | undefined; onShow: (quote: Quote) => void; children?: ReactNode; after?: ReactNode }) {
  const here = shown === quote
  return (
    <div className={`flex items-start gap-2 rounded px-2 py-1 ${here ? "bg-ochre-wash" : ""}`}>
      <button type="button" aria-pressed={here} onClick={() => onShow(quote)} className="group min-w-0 grow text-left break-words">
        <span className="group-hover:underline">{children ?? quote.text}</span>{" "}
        <span className="figures text-sm whitespace-nowrap text-quiet">{pageName(quote.page, quote.label)}</span>
        {quote.corrected && <span className="ml-2 text-sm text-ochre">{t("worded by an editor")}</span>}
      </button>
      {after}
    </div>
  )
}
