import { useParams } from "react-router"

import { useIntake } from "../../api/intake"
import { useDocuments, useEdits } from "../../api/queries"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { t } from "../../words"
import { Bin } from "./bin"
import { Documents } from "./documents"
import { DropPlace } from "./drop-place"
import { Pace } from "./pace"
import { Sources } from "./sources"

// Intake is where documents are put in, and each is watched as it becomes ready or fails.
export default function Intake() {
  const { collection = "" } = useParams()
  useIntake(collection)
  const documents = useDocuments(collection)
  const edits = useEdits(collection)
  return (
    <div>
      <h1 className="text-3xl">{t("Intake")}</h1>
      {edits && <DropPlace collection={collection} />}
      {documents.isPending && <Waiting what={t("Looking up the documents…")} />}
      {documents.isError && <Failure error={documents.error} />}
      {documents.data?.length === 0 && (
        <div className="mt-8">
          <Empty title={t("Nothing here yet")}>
            {edits ? t("Drop documents above, as many as you like in one go.") : t("An editor of this collection can add documents.")}
          </Empty>
        </div>
      )}
      {documents.data && documents.data.length > 0 && (
        <>
          <Pace collection={collection} all={documents.data} />
          <Documents collection={collection} all={documents.data} />
        </>
      )}
      {edits && <Sources collection={collection} />}
      {edits && <Bin collection={collection} />}
    </div>
  )
}
