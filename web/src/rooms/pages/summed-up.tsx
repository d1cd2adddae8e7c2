import { Collapsible } from "radix-ui"
import { useState } from "react"
import { Link } from "react-router"

import { useSummary } from "../../api/digest"
import { Choose } from "../../parts/choose"
import { Failure, Waiting } from "../../parts/notice"
import { pageAt, pageName } from "../../parts/place"
import { t } from "../../words"

// SummedUp is the sentences that say most of several documents, once they are asked for; without
// names, of all of them.
export function SummedUp({ collection, documents }: { collection: string; documents: string[] }) {
  const [open, setOpen] = useState(false)
  const [length, setLength] = useState<"short" | "page">("short")
  return (
    <Collapsible.Root open={open} onOpenChange={setOpen} className="mt-5 max-w-prose">
      <Collapsible.Trigger className="text-leaf underline underline-offset-4">{open ? t("Close the summary") : documents.length > 0 ? t("Sum up these documents") : t("Sum up all documents")}</Collapsible.Trigger>
      <Collapsible.Content className="mt-4 border-l-2 border-line pl-4">
        <Choose quiet label={t("Length")} value={length} onChange={(v) => setLength(v === "page" ? "page" : "short")} of={[["short", t("Five sentences")], ["page", t("One page")]]} />
        <Sentences collection={collection} documents={documents} length={length} />
      </Collapsible.Content>
    </Collapsible.Root>
  )
}

function Sentences({ collection, documents, length }: { collection: string; documents: string[]; length: "short" | "page" }) {
  const summary = useSummary(collection, documents, length)
  if (summary.isPending) return <Waiting what={t("Choosing the sentences that say most…")} />
  if (summary.isError) return <Failure error={summary.error} />
  return (
    <ol className="mt-3 space-y-3">
      {summary.data.map((q) => (
        <li key={`${q.document} ${q.id}`}>
          {q.text}{" "}
          <Link to={pageAt(collection, q.document ?? "", q.page)} className="figures text-sm text-leaf underline underline-offset-4">
            {q.document}, {pageName(q.page, q.label)}
          </Link>
        </li>
      ))}
    </ol>
  )
}
