import { Tabs } from "radix-ui"
import { useRef } from "react"
import { useSearchParams } from "react-router"

import { useKeys } from "../../parts/keys"
import { tab } from "../../parts/tab"
import { t } from "../../words"
import { Contents } from "./contents"
import { Thumbnails } from "./thumbnails"
import { Versions } from "./versions"
import { Within } from "./within"

type Props = { collection: string; document: string; at: number; of: number }

// Side leads through a document: by its outline, by words in it, by small pictures of its pages,
// and to its other versions.
export function Side({ collection, document, at, of }: Props) {
  const [search, setSearch] = useSearchParams()
  const panel = useRef<HTMLDivElement>(null)
  const side = search.get("side") ?? "contents"
  const show = (wanted: string) =>
    setSearch(
      (old) => {
        old.set("side", wanted)
        return old
      },
      { replace: true },
    )
  useKeys([
    { key: "o", does: t("Show the outline"), run: () => show("contents") },
    { key: "/", does: t("Find in this document"), run: () => show("find") },
    { key: "p", does: t("Show small pages"), run: () => show("pages") },
  ])
  return (
    <Tabs.Root value={side} onValueChange={show} className="lg:sticky lg:top-4 lg:self-start">
      <Tabs.List aria-label={t("Ways through the document")} className="flex justify-between gap-2 border-b border-line text-sm">
        <Tabs.Trigger value="contents" className={`${tab} py-1`}>{t("Outline")}</Tabs.Trigger>
        <Tabs.Trigger value="find" className={`${tab} py-1`}>{t("Find")}</Tabs.Trigger>
        <Tabs.Trigger value="pages" className={`${tab} py-1`}>{t("Pages")}</Tabs.Trigger>
        <Tabs.Trigger value="versions" className={`${tab} py-1`}>{t("Versions")}</Tabs.Trigger>
      </Tabs.List>
      <div ref={panel} className="max-h-56 overflow-y-auto pt-3 lg:max-h-[calc(100dvh-8rem)]">
        <Tabs.Content value="contents"><Contents collection={collection} document={document} at={at} /></Tabs.Content>
        <Tabs.Content value="find"><Within collection={collection} document={document} at={at} /></Tabs.Content>
        <Tabs.Content value="pages"><Thumbnails collection={collection} document={document} at={at} of={of} scrolls={panel} /></Tabs.Content>
        <Tabs.Content value="versions"><Versions collection={collection} document={document} at={at} /></Tabs.Content>
      </div>
    </Tabs.Root>
  )
}
