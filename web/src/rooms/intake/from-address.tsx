import { type FormEvent, useState } from "react"

import { useAddSource } from "../../api/sources"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { useDraft } from "../../parts/draft"
import { field } from "../../parts/field"
import { Failure } from "../../parts/notice"
import { tell } from "../../parts/toast"
import { plural, t } from "../../words"

// FromAddress has the service fetch a document from the web, once or again and again.
export function FromAddress({ collection }: { collection: string }) {
  const add = useAddSource(collection)
  const [address, setAddress] = useDraft(`address ${collection}`)
  const [minutes, setMinutes] = useState("0")
  const [links, setLinks] = useState(false)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    add.mutate(
      { kind: "address", at: address.trim(), minutes: Number(minutes), links },
      {
        onSuccess: (source) => {
          setAddress("")
          tell(plural(source.files, "{n} file was fetched.|{n} files were fetched."))
        },
      },
    )
  }
  return (
    <details className="mt-4 border-t border-line pt-3" open={address !== "" || undefined}>
      <summary className="w-fit cursor-pointer text-leaf">{t("Or fetch it from an address")}</summary>
      <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-3">
        <label className="min-w-48 grow">
          {t("Address")}
          <input type="url" required value={address} onChange={(e) => setAddress(e.target.value)} placeholder="https://" className={`${field} mt-1 block w-full`} />
        </label>
        <Choose label={t("Look again")} value={minutes} onChange={setMinutes} of={[["0", t("never")], ["60", t("every hour")], ["1440", t("every day")], ["10080", t("every week")]]} />
        <label className="flex min-h-10 items-center gap-2">
          <input type="checkbox" className="accent-leaf" checked={links} onChange={(e) => setLinks(e.target.checked)} />
          {t("And the PDFs that it links to")}
        </label>
        <Button type="submit" disabled={!address.trim() || add.isPending}>
          {add.isPending ? t("Fetching…") : t("Fetch")}
        </Button>
      </form>
      {add.isError && (
        <div className="mt-3">
          <Failure error={add.error} />
        </div>
      )}
    </details>
  )
}
