import type { Schemas } from "../../api/client"
import { type HookEvent, useHooks, useSetHook } from "../../api/hooks"
import { Failure, Waiting } from "../../parts/notice"
import { plural, t } from "../../words"

const events: [HookEvent, string][] = [
  ["document.ready", t("a document is ready")],
  ["document.failed", t("a document could not be read")],
  ["document.replaced", t("a newer version has taken a document’s place")],
  ["document.removed", t("a document was put into the bin")],
  ["accuracy.dropped", t("answers have become worse")],
]

// Hooks is where an owner says which other programs are told of what.
export function Hooks({ collection }: { collection: string }) {
  const hooks = useHooks(collection)
  if (hooks.isPending) return <Waiting what={t("Looking up who is told…")} />
  if (hooks.isError) return <Failure error={hooks.error} />
  return (
    <section>
      <h1 className="text-2xl">{t("Other programs")}</h1>
      <p className="mt-2 max-w-prose text-quiet">
        {t("They are told by webhook, again and again for two days if they do not answer. The operator names them when the service is started: jardinet serve --webhook NAME=URL")}
      </p>
      {hooks.data.names.length === 0 && <p className="mt-5">{t("No program has been named yet.")}</p>}
      {hooks.data.names.map((name) => (
        <Hook key={name} collection={collection} name={name} hook={hooks.data.hooks.find((h) => h.name === name)} />
      ))}
    </section>
  )
}

function Hook({ collection, name, hook }: { collection: string; name: string; hook?: Schemas["Hook"] }) {
  const set = useSetHook(collection)
  const told = hook?.events ?? []
  const turn = (event: HookEvent, on: boolean) => set.mutate({ hook: name, events: on ? [...told, event] : told.filter((e) => e !== event) })
  return (
    <fieldset className="mt-6 border-t border-line pt-4" disabled={set.isPending}>
      <legend className="float-left w-full text-xl">{t("{name} is told when", { name })}</legend>
      <div className="clear-both space-y-1 pt-2">
        {events.map(([event, words]) => (
          <label key={event} className="flex items-baseline gap-2">
            <input type="checkbox" checked={told.includes(event)} onChange={(e) => turn(event, e.target.checked)} />
            {words}
          </label>
        ))}
      </div>
      {hook && <Delivered hook={hook} />}
      {set.isError && <Failure error={set.error} />}
    </fieldset>
  )
}

// Delivered tells how deliveries to a program stand.
function Delivered({ hook }: { hook: Schemas["Hook"] }) {
  return (
    <>
      <p className="mt-2 text-sm text-quiet">
        {hook.waiting > 0 ? plural(hook.waiting, "{n} delivery waits|{n} deliveries wait") : t("Everything has been delivered")}
        {"; "}
        {hook.signed ? t("deliveries are signed") : t("deliveries are not signed: the operator has given no secret")}
      </p>
      {hook.problem && <p className="text-ochre">{t("The last one did not arrive: {problem}", { problem: hook.problem })}</p>}
    </>
  )
}
