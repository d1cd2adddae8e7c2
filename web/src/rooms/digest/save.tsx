import { ChevronDown } from "lucide-react"

import { digestAs } from "../../api/digest"
import { Item, Menu } from "../../parts/menu"
import { t } from "../../words"

// Save takes a digest along.
export function Save({ collection, document }: { collection: string; document: string }) {
  return (
    <Menu
      trigger={
        <>
          {t("Save or print")} <ChevronDown aria-hidden className="size-4" />
        </>
      }
    >
      <Item href={digestAs(collection, document, "markdown")} download={`${document}.md`}>{t("All of it, as Markdown")}</Item>
      <Item href={digestAs(collection, document, "calendar")} download="">{t("Its dates, for a calendar")}</Item>
      <Item href={digestAs(collection, document, "json")} download={`${document}.json`}>{t("All of it, as JSON with boxes")}</Item>
      <Item onSelect={() => window.print()}>{t("Print this part")}</Item>
    </Menu>
  )
}
