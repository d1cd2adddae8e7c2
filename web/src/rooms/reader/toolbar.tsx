import { ChevronDown } from "lucide-react"
import { Link } from "react-router"

import { exportOf, fileOf, originalOf, type Page } from "../../api/client"
import { Item, Menu } from "../../parts/menu"
import { digestAt } from "../../parts/place"
import { tell } from "../../parts/toast"
import { Turn } from "../../parts/turn"
import { Zoom } from "../../parts/zoom"
import { t } from "../../words"

type Props = {
  collection: string
  document: string
  page: Page | undefined
  at: number
  of: number
  zoom: number
  onTurn: (page: number) => void
  onZoom: (zoom: number) => void
}

// Toolbar names the document, turns its pages and takes it along.
export function Toolbar({ collection, document, page, at, of, zoom, onTurn, onZoom }: Props) {
  const copy = () => {
    void navigator.clipboard.writeText(location.href).then(() => tell(t("The page’s address is on the clipboard.")))
  }
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
      <h1 className="min-w-0 basis-full text-2xl break-words lg:basis-auto lg:grow">
        {page?.title || page?.document || document}
        {page && page.title && <span className="ml-3 font-sans text-sm text-quiet">{page.document}</span>}
      </h1>
      <Link to={digestAt(collection, document)} className="text-leaf underline underline-offset-4">
        {t("At a glance")}
      </Link>
      <Turn at={at} of={of} label={page?.label ?? ""} onTurn={onTurn} />
      <Zoom zoom={zoom} onZoom={onZoom} />
      <Menu
        trigger={
          <>
            {t("Save or share")} <ChevronDown aria-hidden className="size-4" />
          </>
        }
      >
        <Item href={`${fileOf(collection, document)}#page=${at}`}>{t("Open the file at this page")}</Item>
        <Item href={originalOf(collection, document)} download="">{t("Save the original file")}</Item>
        <Item href={exportOf(collection, document, "markdown")}>{t("What was read, as Markdown")}</Item>
        <Item href={exportOf(collection, document, "html")}>{t("What was read, as a page of the web")}</Item>
        <Item href={exportOf(collection, document, "text")}>{t("What was read, as text")}</Item>
        <Item href={exportOf(collection, document, "json")}>{t("What was read, as JSON with boxes")}</Item>
        <Item onSelect={copy}>{t("Copy this page’s address")}</Item>
      </Menu>
    </div>
  )
}
