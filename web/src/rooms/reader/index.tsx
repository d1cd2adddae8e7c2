import { useState } from "react"
import { useNavigate, useParams, useSearchParams } from "react-router"

import type { Box } from "../../api/client"
import { useWithin } from "../../api/documents"
import { usePage } from "../../api/queries"
import { useKeys } from "../../parts/keys"
import { Failure, Waiting } from "../../parts/notice"
import { pageAt } from "../../parts/place"
import { zoomBy } from "../../parts/zoom"
import { t } from "../../words"
import { Ahead } from "./ahead"
import { Beside } from "./beside"
import { Reading } from "./reading"
import { Side } from "./side"
import { Toolbar } from "./toolbar"

// Reader shows a document page by page, and beside each page what was read from it, or another
// version of it. The outline, a search and small pictures of the pages lead through it.
export default function Reader() {
  const { collection = "", document = "", number = "1" } = useParams()
  const [search] = useSearchParams()
  const go = useNavigate()
  const [zoom, setZoom] = useState(1)
  const at = Number(number)
  const page = usePage(collection, document, at)
  const of = page.data?.of ?? at
  const sought = search.get("find") ?? ""
  const hits = useWithin(collection, document, sought).data?.hits ?? []
  const marks: Box[] = hits.filter((h) => h.page === at).flatMap((h) => h.boxes)
  const beside = search.get("beside")
  const turn = (n: number) => n >= 1 && n <= of && void go({ pathname: pageAt(collection, document, n), search: search.toString() })
  useKeys([
    { key: "ArrowLeft", does: t("Previous page"), run: () => turn(at - 1) },
    { key: "ArrowRight", does: t("Next page"), run: () => turn(at + 1) },
    { key: "+", does: t("Larger"), run: () => setZoom(zoomBy(zoom, 1)) },
    { key: "-", does: t("Smaller"), run: () => setZoom(zoomBy(zoom, -1)) },
  ])
  return (
    <div>
      <Toolbar collection={collection} document={document} page={page.data} at={at} of={of} zoom={zoom} onTurn={turn} onZoom={setZoom} />
      <div className="mt-4 grid gap-6 lg:grid-cols-[14rem_minmax(0,1fr)]">
        <Side collection={collection} document={document} at={at} of={of} />
        <div>
          {page.isPending && <Waiting what={t("Fetching the page…")} />}
          {page.isError && <Failure error={page.error} />}
          {page.data && beside && <Beside key={beside} collection={collection} page={page.data} other={beside} zoom={zoom} />}
          {page.data && !beside && <Reading key={`${document} ${at}`} collection={collection} page={page.data} marks={marks} zoom={zoom} />}
        </div>
      </div>
      <Ahead collection={collection} document={page.data?.document_id} at={at} of={of} />
    </div>
  )
}
