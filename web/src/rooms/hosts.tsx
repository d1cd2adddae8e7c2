import { type Host, type Hosts as All, useHosts } from "../api/hosts"
import { Failure, Waiting } from "../parts/notice"
import { plural, size, t } from "../words"

// Hosts shows the hosts that share their records: whether each answers, and where the shards are.
export default function Hosts() {
  const hosts = useHosts()
  return (
    <div className="space-y-8">
      <h1 className="text-3xl">{t("Hosts")}</h1>
      {hosts.isPending && <Waiting what={t("Asking the hosts…")} />}
      {hosts.isError && <Failure error={hosts.error} />}
      {hosts.data && <Told all={hosts.data} />}
    </div>
  )
}

function Told({ all }: { all: All }) {
  const answering = all.hosts.filter((h) => h.state === "answers").length
  return (
    <>
      <p className="max-w-prose text-quiet" role="status">
        {all.alone ? t("This host is alone: it shares its records with no other.") : t("{answering} of {hosts} hosts answer, as {here} sees it. The records are at change {changes}.", { answering, hosts: all.hosts.length, here: all.here, changes: all.changes })}
      </p>
      {all.problem && <Failure error={new Error(all.problem)} />}
      <List all={all} />
      {!all.alone && <Shards all={all} />}
      {all.queues.length > 0 && (
        <section>
          <h2 className="text-xl">{t("Waiting")}</h2>
          <p className="mt-2 text-quiet">{all.queues.map((q) => `${queues[q.kind] ?? q.kind}: ${q.waiting}`).join(" · ")}</p>
        </section>
      )}
    </>
  )
}

const queues: Record<string, string> = { intake: t("to be read"), encode: t("to be encoded"), measure: t("to be measured") }
const roles: Record<string, string> = { answer: t("answers"), intake: t("reads"), encode: t("encodes") }
const duties: Record<string, string> = { cluster: t("shards and queue"), watch: t("bins and checks"), sources: t("sources"), webhooks: t("webhooks"), bench: t("measuring again") }

const heads = [t("Host"), t("State"), t("Behind"), t("Under way"), t("Room"), t("Does"), t("Alone sees to")]

function List({ all }: { all: All }) {
  return (
    <div className="overflow-x-auto" tabIndex={0} role="region" aria-label={t("Hosts")}>
      <table className="figures w-full text-left">
        <thead className="text-sm text-quiet">
          <tr>
            {heads.map((head) => (
              <th key={head} className="py-1 pr-6 font-normal whitespace-nowrap">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {all.hosts.map((h) => (
            <tr key={h.name} className="border-t border-line align-baseline">
              <th scope="row" className="py-2 pr-6 font-normal">
                {h.address ? (
                  <a href={h.address} className="text-leaf underline underline-offset-4">
                    {h.name}
                  </a>
                ) : (
                  h.name
                )}
                <span className="block text-sm text-quiet">{h.version}</span>
              </th>
              <td className="pr-6">
                <State host={h} />
              </td>
              <td className="pr-6 whitespace-nowrap">{h.behind === 0 ? t("nothing") : plural(h.behind, "{n} change|{n} changes")}</td>
              <td className="pr-6 whitespace-nowrap">
                {plural(h.asked, "{n} question|{n} questions")}, {plural(h.reading, "{n} document|{n} documents")}
              </td>
              <td className="pr-6 whitespace-nowrap">{size(h.free)}</td>
              <td className="pr-6">{h.roles.map((r) => roles[r] ?? r).join(", ")}</td>
              <td className="pr-6 text-quiet">{h.duties.map((d) => duties[d] ?? d).join(", ")}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

// wrongClock is from how many seconds on a clock is worth a word.
const wrongClock = 2

function State({ host: h }: { host: Host }) {
  const good = h.state === "answers"
  const words = { answers: t("answers"), behind: t("is behind"), silent: t("silent for {seconds} s", { seconds: Math.round(h.silent) }), stopped: t("stopped") }[h.state]
  return (
    <>
      <span className={good ? "text-leaf" : h.state === "stopped" ? "text-quiet" : "whitespace-nowrap text-brick"}>{words}</span>
      {h.problem && <span className="block text-sm text-brick">{h.problem}</span>}
      {h.fetching > 0 && <span className="block text-sm text-ochre">{plural(h.fetching, "fetches {n} shard|fetches {n} shards")}</span>}
      {Math.abs(h.clock) > wrongClock && <span className="block text-sm text-ochre">{t("its clock is off by {seconds} s", { seconds: Math.round(h.clock) })}</span>}
    </>
  )
}

// Shards is a table of shards and hosts: who writes each, and who else has it.
function Shards({ all }: { all: All }) {
  const there = new Set(all.hosts.filter((h) => h.state === "answers" || h.state === "behind").map((h) => h.name))
  const names = [...new Set([...all.hosts.map((h) => h.name), ...all.shards.flatMap((s) => s.hosts)])]
  return (
    <section>
      <h2 className="text-xl">{t("Shards")}</h2>
      <p className="mt-2 max-w-prose text-quiet">{t("Each collection lies in these parts, each on {n} hosts. One of them writes it; the others fetch what it wrote.", { n: all.replicas })}</p>
      <div className="mt-3 overflow-x-auto" tabIndex={0} role="region" aria-label={t("Shards")}>
        <table className="figures text-left">
          <thead className="text-sm text-quiet">
            <tr>
              <th className="py-1 pr-6 font-normal">{t("Shard")}</th>
              <th className="py-1 pr-6 text-right font-normal">{t("Passages")}</th>
              {names.map((name) => (
                <th key={name} className="py-1 pr-6 font-normal">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {all.shards.map((s) => (
              <tr key={s.shard} className="border-t border-line">
                <th scope="row" className="py-1.5 pr-6 font-normal">
                  {s.shard}
                </th>
                <td className="pr-6 text-right">{s.passages.toLocaleString()}</td>
                {names.map((name) => (
                  <td key={name} className="pr-6">
                    {s.hosts.includes(name) && <Has writes={s.hosts.find((h) => there.has(h)) === name} there={there.has(name)} ready={s.up_to_date.includes(name)} />}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}

function Has({ writes, there, ready }: { writes: boolean; there: boolean; ready: boolean }) {
  if (!there) return <span className="text-brick">{t("out of reach")}</span>
  if (!ready) return <span className="text-ochre">{t("not up to date")}</span>
  return <span className={`rounded border border-leaf px-2 py-0.5 ${writes ? "bg-leaf text-on-leaf" : "text-leaf"}`}>{writes ? t("writes") : t("has it")}</span>
}
