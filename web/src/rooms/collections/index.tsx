import { useSession } from "../../api/access"
import { useCollections } from "../../api/queries"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { Sought } from "../../parts/sought"
import { t } from "../../words"
import { Card } from "./card"
import { Create } from "./create"
import { Everywhere } from "./everywhere"
import { FirstSteps } from "./first-steps"

// Collections lists what the caller may read. Where there is nothing yet, it leads to the first
// cited answer.
export function Collections() {
  const collections = useCollections()
  const makes = useSession().data?.administrator
  const all = collections.data ?? []
  return (
    <div className="max-w-4xl">
      <h1 className="text-3xl">{t("Collections")}</h1>
      <p className="mt-2 max-w-prose text-quiet">{t("A collection is a set of documents that are searched together. Ask it a question, or put more documents in.")}</p>
      <div className="mt-8 space-y-4">
        {collections.isPending && <Waiting what={t("Looking up the collections…")} />}
        {collections.isError && <Failure error={collections.error} />}
        {collections.data?.length === 0 && makes && <FirstSteps />}
        {collections.data?.length === 0 && !makes && (
          <Empty title={t("No collection yet")}>{t("You have no right in any collection yet; the owner of one can give you one.")}</Empty>
        )}
        {all.length > 1 && <Everywhere />}
        <Sought all={all} words={(c) => `${c.name} ${c.description}`} what={t("Find a collection")}>
          {(shown) => shown.map((c) => <Card key={c.name} collection={c} />)}
        </Sought>
        {makes && all.length > 0 && <Create />}
      </div>
    </div>
  )
}
