import { Tabs } from "radix-ui"
import { useSearchParams } from "react-router"

import { tab } from "../../parts/tab"
import { t } from "../../words"
import { Kind } from "./kind"
import { Passages } from "./passages"

// Search finds the best passages for a query, or all that the documents have of a kind.
export default function Search() {
  const [search, setSearch] = useSearchParams()
  const turn = (way: string) => setSearch(way === "list" ? { list: "" } : {}, { replace: true })
  return (
    <div>
      <h1 className="text-3xl">{t("Search")}</h1>
      <Tabs.Root value={search.has("list") ? "list" : "passages"} onValueChange={turn} className="mt-3">
        <Tabs.List aria-label={t("What is looked for")} className="flex gap-x-5 border-b border-line">
          <Tabs.Trigger value="passages" className={`${tab} py-1.5`}>
            {t("The best passages")}
          </Tabs.Trigger>
          <Tabs.Trigger value="list" className={`${tab} py-1.5`}>
            {t("All of a kind")}
          </Tabs.Trigger>
        </Tabs.List>
        <Tabs.Content value="passages">
          <Passages />
        </Tabs.Content>
        <Tabs.Content value="list">
          <Kind />
        </Tabs.Content>
      </Tabs.Root>
    </div>
  )
}
