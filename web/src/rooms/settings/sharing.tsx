import { useSetSharing } from "../../api/access"
import { useCollection } from "../../api/queries"
import { Failure } from "../../parts/notice"
import { t } from "../../words"

// Sharing is who sees what is asked.
export function Sharing({ collection }: { collection: string }) {
  const sharing = useCollection(collection)?.sharing
  const set = useSetSharing(collection)
  if (!sharing) return null
  return (
    <fieldset className="mt-8 space-y-2">
      <legend className="text-xl">{t("Who sees what is asked")}</legend>
      <p className="max-w-prose text-quiet">{t("Kept conversations are their asker’s alone. Readers are told where that is otherwise.")}</p>
      <label className="flex items-baseline gap-2">
        <input type="checkbox" checked={sharing.conversations} onChange={(e) => set.mutate({ ...sharing, conversations: e.target.checked })} />
        {t("Owners can read the conversations that others keep")}
      </label>
      <label className="flex items-baseline gap-2">
        <input type="checkbox" checked={sharing.questions} onChange={(e) => set.mutate({ ...sharing, questions: e.target.checked })} />
        {t("The audit keeps the words of questions")}
      </label>
      {set.isError && <Failure error={set.error} />}
    </fieldset>
  )
}
