import { FileUp } from "lucide-react"
import { type DragEvent, useRef, useState } from "react"

import { upload } from "../../api/uploads"
import { Button } from "../../parts/button"
import { t } from "../../words"
import { FromAddress } from "./from-address"
import { filesIn } from "./files-in"
import { Sending } from "./sending"

const accepted = ".pdf,.docx,.odt,.pptx,.xlsx,.ods,.epub,.rtf,.html,.htm,.md,.txt,.csv,.tsv,.eml,.png,.jpg,.jpeg,.tif,.tiff,.gif,.bmp,.webp,.zip"

// DropPlace takes files and folders.
export function DropPlace({ collection }: { collection: string }) {
  const [over, setOver] = useState(false)
  const files = useRef<HTMLInputElement>(null)
  const folder = useRef<HTMLInputElement>(null)
  const take = (chosen: HTMLInputElement) => {
    upload(collection, [...(chosen.files ?? [])].filter((f) => !f.name.startsWith(".")))
    chosen.value = "" // so that the same can be chosen again
  }
  const drop = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    void filesIn(event.dataTransfer).then((all) => upload(collection, all))
  }
  return (
    <section
      aria-label={t("Add documents")}
      onDragOver={(e) => {
        e.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={`mt-6 rounded-lg border-2 border-dashed px-5 py-5 sm:px-6 ${over ? "border-leaf bg-sheet" : "border-line"}`}
    >
      <div className="flex flex-wrap items-center gap-x-6 gap-y-3">
        <FileUp aria-hidden className="hidden size-8 text-leaf sm:block" strokeWidth={1.5} />
        <p className="min-w-0 flex-1 basis-72">
          {t("Drop documents and folders here, as many as you like.")}
          <span className="block text-sm text-quiet">
            {t("PDF, Word, OpenDocument, presentations, workbooks, books, web pages, text, pictures, e-mail with what is attached, and archives of these. A file of the same name replaces the one that is here once it is ready.")}
          </span>
        </p>
        <input ref={files} type="file" multiple accept={accepted} className="sr-only" aria-label={t("Files")} tabIndex={-1} onChange={(e) => take(e.target)} />
        <input ref={folder} type="file" multiple {...{ webkitdirectory: "" }} className="sr-only" aria-label={t("Folder")} tabIndex={-1} onChange={(e) => take(e.target)} />
        <span className="flex flex-wrap gap-3">
          <Button kind="main" onClick={() => files.current?.click()}>
            {t("Choose files")}
          </Button>
          <Button onClick={() => folder.current?.click()}>{t("Choose a folder")}</Button>
        </span>
      </div>
      <FromAddress collection={collection} />
      <Sending collection={collection} />
    </section>
  )
}
