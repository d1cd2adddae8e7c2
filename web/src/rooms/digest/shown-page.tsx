import { Link } from "react-router"

import type { Quote } from "../../api/digest"
import { PagePicture } from "../../parts/page-picture"
import { pageAt, pageName } from "../../parts/place"
import { t } from "../../words"

// ShownPage is the page that a line stands on, with the line marked.
export function ShownPage({ collection, document, quote }: { collection: string; document: string; quote: Quote | undefined }) {
  if (!quote) return <p className="hidden text-sm text-quiet lg:block">{t("Press a line to see it on its page.")}</p>
  return (
    <aside aria-label={t("The page behind the line")} className="lg:sticky lg:top-4 lg:self-start">
      <p className="mb-2 flex justify-between gap-4 text-sm">
        <span className="figures text-quiet first-letter:uppercase">{pageName(quote.page, quote.label)}</span>
        <Link to={pageAt(collection, document, quote.page)} className="text-leaf underline underline-offset-4">
          {t("Open the page")}
        </Link>
      </p>
      <div data-scrolls className="max-h-[calc(100dvh-7rem)] overflow-y-auto">
        <PagePicture collection={collection} document={document} number={quote.page} marks={quote.boxes} />
      </div>
    </aside>
  )
}
