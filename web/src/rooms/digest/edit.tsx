import { EllipsisVertical } from "lucide-react"
import { Dialog } from "radix-ui"
import { useState } from "react"

import { useEditDigest } from "../../api/digest"
import { useEdits } from "../../api/queries"
import { Button } from "../../parts/button"
import { field } from "../../parts/field"
import { Item, Menu } from "../../parts/menu"
import { Failure } from "../../parts/notice"
import { Sheet } from "../../parts/sheet"
import { tell } from "../../parts/toast"
import { t } from "../../words"

// Edit lets an editor leave a line out or word it anew; both can be taken back.
export function Edit({ collection, document, line, text }: { collection: string; document: string; line: string; text: string }) {
  const change = useEditDigest(collection, document)
  const [wording, setWording] = useState<string>()
  if (!useEdits(collection)) return null
  const undo = () => change.mutate({ line })
  const drop = () => change.mutate({ line, edit: { drop: true } }, { onSuccess: () => tell(t("The line was left out."), undo) })
  const reword = () =>
    change.mutate({ line, edit: { text: wording ?? "" } }, {
      onSuccess: () => {
        setWording(undefined)
        tell(t("The line was worded anew."), undo)
      },
    })
  return (
    <span className="shrink-0 print:hidden">
      <Menu label={t("Change this line")} trigger={<EllipsisVertical aria-hidden className="size-4 text-quiet" />}>
        <Item onSelect={() => setWording(text)}>{t("Word it anew")}</Item>
        <Item onSelect={drop}>{t("Leave it out")}</Item>
      </Menu>
      <Dialog.Root open={wording !== undefined} onOpenChange={(open) => !open && setWording(undefined)}>
        <Sheet title={t("Word the line anew")} text={t("It stands so in new versions of the document too, as long as they have the line.")}>
          <textarea aria-label={t("The line")} value={wording ?? ""} rows={4} onChange={(e) => setWording(e.target.value)} className={`${field} w-full`} />
          {change.isError && <Failure error={change.error} />}
          <Button kind="main" className="mt-3" disabled={!wording?.trim()} onClick={reword}>
            {t("Keep")}
          </Button>
        </Sheet>
      </Dialog.Root>
    </span>
  )
}
