import { forgetUploads, isUnder, sendAgain, stopUploads, type Upload, useUploads } from "../../api/uploads"
import { Bar } from "../../parts/bar"
import { Button } from "../../parts/button"
import { number, plural, size, t } from "../../words"

// Sending shows how far a collection's uploads are, and which were not taken and why.
export function Sending({ collection }: { collection: string }) {
  const all = useUploads(collection)
  if (all.length === 0) return null
  const under = all.filter(isUnder)
  const again = all.filter((u) => u.state === "duplicate")
  const failed = all.filter((u) => u.state === "failed")
  const refused = all.filter((u) => u.state === "refused")
  const taken = all.filter((u) => u.state === "taken")
  return (
    <div className="mt-4 space-y-2 border-t border-line pt-4">
      <div role="status" className="figures">
        {under.length > 0 ? <UnderWay all={all} /> : taken.length > 0 && <p>{plural(taken.length, "{n} file was sent.|{n} files were sent.")}</p>}
        {again.length > 0 && (
          <p className="text-sm text-quiet">
            {t("Here already:")} {named(again)}.
          </p>
        )}
      </div>
      {refused.length > 0 && <Untaken title={plural(refused.length, "{n} file was not taken|{n} files were not taken")} all={refused} />}
      {failed.length > 0 && <Untaken title={plural(failed.length, "{n} file could not be sent|{n} files could not be sent")} all={failed} />}
      <p className="flex flex-wrap gap-3">
        {under.length > 0 && <Button onClick={() => stopUploads(collection)}>{t("Stop sending")}</Button>}
        {failed.length > 0 && <Button onClick={() => sendAgain(collection)}>{t("Send again")}</Button>}
        {under.length === 0 && <Button onClick={() => forgetUploads(collection)}>{t("Clear this list")}</Button>}
      </p>
    </div>
  )
}

function UnderWay({ all }: { all: Upload[] }) {
  const sent = all.reduce((n, u) => n + (u.state === "sending" ? u.sent : isUnder(u) ? 0 : u.file.size), 0)
  const of = all.reduce((n, u) => n + u.file.size, 0)
  const left = all.filter(isUnder).length
  return (
    <>
      <p>
        {t("Sending {sent} of {of}; {left} of {all} files to go. You may leave this view, but keep the tab open.", {
          sent: size(sent),
          of: size(of),
          left: number(left),
          all: number(all.length),
        })}
      </p>
      <Bar done={sent} of={of} label={t("sent")} />
    </>
  )
}

const mostNamed = 8

function named(all: Upload[]): string {
  const names = all.slice(0, mostNamed).map((u) => u.file.name)
  return names.join(", ") + (all.length > mostNamed ? ` ${plural(all.length - mostNamed, "and {n} more|and {n} more")}` : "")
}

function Untaken({ title, all }: { title: string; all: Upload[] }) {
  return (
    <details open={all.length <= 5} className="text-brick">
      <summary className="cursor-pointer">{title}</summary>
      <ul className="mt-1 max-h-64 space-y-1 overflow-y-auto text-sm">
        {all.map((u) => (
          <li key={u.id}>{u.reason.startsWith(u.file.name) ? u.reason : `${u.file.name}: ${u.reason}`}</li>
        ))}
      </ul>
    </details>
  )
}
