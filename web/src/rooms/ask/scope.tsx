import { Popover } from "radix-ui"

import type { Scope } from "../../api/client"
import { useDocuments } from "../../api/queries"
import { plural, t } from "../../words"

type Props = { collection: string; scope: Scope; onChange: (scope: Scope) => void }

// Where says which documents a question is answered from, and lets it be chosen.
export function Where({ collection, scope, onChange }: Props) {
  const documents = (useDocuments(collection).data ?? []).filter((d) => d.state === "ready")
  const tags = [...new Set(documents.flatMap((d) => d.tags))].sort()
  return (
    <Popover.Root>
      <Popover.Trigger className="text-sm text-leaf underline">{worded(scope)}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content aria-label={t("Where to look")} align="start" sideOffset={6} className="z-10 max-h-[70dvh] w-[min(30rem,92vw)] overflow-y-auto rounded-lg border border-line bg-sheet p-4 shadow-xl">
          <Choice title={t("Documents that have all of these tags")} of={tags} chosen={scope.tags} onChange={(tags) => onChange({ ...scope, tags })}>
            {t("No document has a tag yet; they are put on in Intake.")}
          </Choice>
          <Choice title={t("Only these documents")} of={documents.map((d) => d.name)} chosen={scope.documents} onChange={(documents) => onChange({ ...scope, documents })}>
            {t("No document is ready.")}
          </Choice>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function worded({ tags, documents }: Scope): string {
  const some = plural(documents.length, "{n} document|{n} documents")
  if (tags.length > 0 && documents.length > 0) return t("Looking in {documents} with the tags {tags}", { documents: some, tags: tags.join(", ") })
  if (tags.length > 0) return t("Looking in documents with the tags {tags}", { tags: tags.join(", ") })
  return documents.length > 0 ? t("Looking in {documents}", { documents: some }) : t("Looking in all documents")
}

type ChoiceProps = { title: string; of: string[]; chosen: string[]; onChange: (chosen: string[]) => void; children: string }

function Choice({ title, of, chosen, onChange, children }: ChoiceProps) {
  return (
    <fieldset className="mb-4 last:mb-0">
      <legend className="mb-1 text-sm font-semibold">{title}</legend>
      {of.length === 0 && <p className="text-sm text-quiet">{children}</p>}
      {of.map((name) => (
        <label key={name} className="flex items-center gap-2 py-0.5">
          <input
            type="checkbox"
            className="accent-leaf"
            checked={chosen.includes(name)}
            onChange={(e) => onChange(e.target.checked ? [...chosen, name] : chosen.filter((c) => c !== name))}
          />
          <span className="min-w-0 break-words">{name}</span>
        </label>
      ))}
    </fieldset>
  )
}
