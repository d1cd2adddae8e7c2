import { useCollection } from "../../api/queries"
import { t } from "../../words"

// Told says who else sees what is asked.
export function Told({ collection }: { collection: string }) {
  const sharing = useCollection(collection)?.sharing
  if (!sharing?.questions && !sharing?.conversations) return null
  return (
    <p className="mt-2 text-sm text-quiet">
      {sharing.questions && t("What is asked here is written into the audit.")} {sharing.conversations && t("Owners of this collection can read conversations.")}
    </p>
  )
}
