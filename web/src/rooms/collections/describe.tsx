import { Pencil } from "lucide-react"
import { Dialog } from "radix-ui"
import { type FormEvent, useState } from "react"

import type { Collection } from "../../api/client"
import { useDescribe } from "../../api/documents"
import { Button } from "../../parts/button"
import { field } from "../../parts/field"
import { Failure } from "../../parts/notice"
import { Sheet } from "../../parts/sheet"
import { t } from "../../words"

// Describe lets an owner say what a collection is for.
export function Describe({ collection: c }: { collection: Collection }) {
  const [open, setOpen] = useState(false)
  const [text, setText] = useState(c.description)
  const describe = useDescribe(c.name)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    describe.mutate(text, { onSuccess: () => setOpen(false) })
  }
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger aria-label={t("Describe {name}", { name: c.name })} className="p-1 text-quiet hover:text-ink">
        <Pencil aria-hidden className="size-4.5" />
      </Dialog.Trigger>
      <Sheet title={t("What {name} is for", { name: c.name })} text={t("A sentence or two, for those who choose where to ask.")}>
        <form onSubmit={submit} className="space-y-4">
          <textarea aria-label={t("Description")} value={text} maxLength={500} rows={3} onChange={(e) => setText(e.target.value)} className={`${field} w-full`} />
          {describe.isError && <Failure error={describe.error} />}
          <Button kind="main" type="submit" disabled={describe.isPending}>
            {t("Save")}
          </Button>
        </form>
      </Sheet>
    </Dialog.Root>
  )
}
