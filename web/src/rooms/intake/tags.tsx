import { Tag } from "lucide-react"
import { Popover } from "radix-ui"
import { type FormEvent, useState } from "react"

import type { Document } from "../../api/client"
import { useEdits, useSetTags } from "../../api/queries"
import { Button } from "../../parts/button"
import { Failure } from "../../parts/notice"
import { t } from "../../words"

// Tags shows a document's tags and lets them be changed.
export function Tags({ document: d, collection }: { document: Document; collection: string }) {
  const set = useSetTags(collection)
  const edits = useEdits(collection)
  const [open, setOpen] = useState(false)
  const [text, setText] = useState("")
  const change = (wanted: boolean) => {
    setOpen(wanted)
    setText(d.tags.join(", "))
  }
  const save = (event: FormEvent) => {
    event.preventDefault()
    const tags = text.split(",").flatMap((t) => t.trim() || [])
    set.mutate({ document: d.id, tags }, { onSuccess: () => setOpen(false) })
  }
  if (!edits) return <span className="ml-3 text-sm text-quiet">{d.tags.join(", ")}</span>
  return (
    <Popover.Root open={open} onOpenChange={change}>
      <Popover.Trigger aria-label={t("Tags of {name}: {tags}", { name: d.name, tags: d.tags.join(", ") || t("none") })} className="ml-3 inline-flex items-center gap-1 text-sm text-quiet hover:text-ink">
        <Tag aria-hidden className="size-3.5" />
        {d.tags.join(", ")}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content aria-label={t("Tags of {name}", { name: d.name })} align="start" sideOffset={6} className="z-10 w-[min(26rem,92vw)] rounded-lg border border-line bg-sheet p-4 shadow-xl">
          <form onSubmit={save}>
            <label>
              <span className="text-sm font-semibold">{t("Tags, separated by commas")}</span>
              <input value={text} onChange={(e) => setText(e.target.value)} autoComplete="off" className="mt-1 w-full rounded-md border border-quiet bg-sheet px-2.5 py-1.5" />
            </label>
            <p className="mt-1 text-sm text-quiet">{t("Questions can be kept to the documents that have a tag. A new version has them too.")}</p>
            {set.isError && <Failure error={set.error} />}
            <div className="mt-3 flex justify-end">
              <Button kind="main" type="submit" disabled={set.isPending}>
                {t("Save")}
              </Button>
            </div>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
