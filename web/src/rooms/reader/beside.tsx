import { useState } from "react"

import type { Box, Page } from "../../api/client"
import { usePage } from "../../api/queries"
import { Failure, Waiting } from "../../parts/notice"
import { PagePicture } from "../../parts/page-picture"
import { Turn } from "../../parts/turn"
import { Zoomed } from "../../parts/zoom"
import { plural, t } from "../../words"

type Props = { collection: string; page: Page; other: string; zoom: number }

// Beside shows a page of one version next to one of another, with the lines marked that the
// other does not have.
export function Beside({ collection, page, other, zoom }: Props) {
  const [at, setAt] = useState(page.number)
  const b = usePage(collection, other, at)
  if (b.isPending) return <Waiting what={t("Fetching the page…")} />
  if (b.isError) return <Failure error={b.error} />
  const added = lacking(page, b.data)
  const dropped = lacking(b.data, page)
  return (
    <div className="grid gap-6 md:grid-cols-2">
      <div>
        <p className="mb-2 flex min-h-8 items-center text-sm text-quiet">{plural(added.length, "This version: {n} line that the other page lacks|This version: {n} lines that the other page lacks")}</p>
        <Zoomed zoom={zoom}>
          <PagePicture collection={collection} document={page.document_id} number={page.number} marks={added} />
        </Zoomed>
      </div>
      <div>
        <div className="mb-2 flex min-h-8 flex-wrap items-center gap-x-4 text-sm text-quiet">
          {plural(dropped.length, "The other: {n} line|The other: {n} lines")}
          <Turn name={t("Pages of the other version")} at={at} of={b.data.of} label={b.data.label} onTurn={setAt} />
        </div>
        <Zoomed name={t("Picture of the other version’s page")} zoom={zoom}>
          <PagePicture collection={collection} document={b.data.document_id} number={at} marks={dropped} />
        </Zoomed>
      </div>
    </div>
  )
}

// lacking are the boxes of the lines of a page that another does not have.
function lacking(page: Page, other: Page): Box[] {
  const plain = (text: string) => text.replace(/\s+/g, " ").trim().toLowerCase()
  const there = plain(other.lines.map((l) => l.text).join(" "))
  return page.lines.filter((l) => !there.includes(plain(l.text))).map((l) => l.box)
}
