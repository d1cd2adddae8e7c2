import { Dialog } from "radix-ui"
import { useEffect, useRef, useState } from "react"
import { useNavigate, useParams, useSearchParams } from "react-router"

import { useAsking } from "../../api/asking"
import { useConversation } from "../../api/queries"
import { Failure, Waiting } from "../../parts/notice"
import { Sheet } from "../../parts/sheet"
import { useWide } from "../../parts/wide"
import { t } from "../../words"
import { Coming } from "./coming"
import { Entry } from "./entry"
import { Evidence } from "./evidence"
import { Kept } from "./kept"
import { Question } from "./question"
import { Where } from "./scope"
import { scopeIn } from "./scope-address"
import { type Shown, spotsOf } from "./spots"
import { Suggested } from "./suggested"
import { Told } from "./told"

// Ask is a conversation: a column of questions with the answers as they were given, the newest on
// top, and beside it the page that the chosen citation stands on; in a narrow window that page
// lies over the conversation. Each question is asked once; its answer is kept and shown from
// there. An address with questions asks them, and becomes that of their conversation.
export default function Ask() {
  const { collection = "", conversation = "" } = useParams()
  const [search] = useSearchParams()
  const go = useNavigate()
  const kept = useConversation(collection, conversation)
  const { asking, ask, stop, forget } = useAsking(collection)
  const [scope, setScope] = useState(scopeIn(search))
  const [picked, setPicked] = useState<Shown>()
  const [over, setOver] = useState(false) // the cited page lies over the conversation
  const wide = useWide()
  const [unsent, setUnsent] = useState("")
  const turns = kept.data?.turns ?? []
  const last = turns.at(-1)?.answer
  const shown = picked ?? (last && spotsOf(last).length > 0 ? { answer: last, at: 0 } : undefined)

  const pick = (one: Shown) => {
    setPicked(one)
    setOver(!wide)
  }
  const put = async (question: string, to: string) => {
    setPicked(undefined)
    const answer = await ask(question, to, scope)
    if (!answer) setUnsent(question)
    return answer?.conversation
  }
  const send = async (question: string, afresh: boolean) => {
    const id = await put(question, afresh ? "" : conversation)
    if (id && id !== conversation) void go(`/c/${collection}/ask/${id}`)
  }
  const given = useRef("")
  useEffect(() => {
    const questions = search.getAll("q")
    if (questions.length === 0 || given.current === search.toString()) return
    given.current = search.toString()
    void (async () => {
      let id: string | undefined = ""
      for (const q of questions) id = id === undefined ? id : await put(q, id)
      if (id) void go(`/c/${collection}/ask/${id}`, { replace: true })
    })()
  })
  const begun = asking !== undefined || turns.length > 0
  return (
    <div className={begun ? "grid gap-10 lg:grid-cols-[minmax(0,10fr)_minmax(0,9fr)]" : "mx-auto max-w-2xl sm:pt-[8vh]"}>
      <div className="min-w-0">
        <Question key={unsent} collection={collection} follows={begun} unsent={unsent} busy={asking !== undefined && !asking.problem} onAsk={(q, afresh) => void send(q, afresh)} />
        <p data-screen-only className="mt-2">
          <Where collection={collection} scope={scope} onChange={setScope} />
        </p>
        <Told collection={collection} />
        {kept.isError && <Failure error={kept.error} />}
        {kept.isLoading && <Waiting what={t("Fetching the conversation…")} />}
        <p role="status" className="sr-only">
          {!asking && last ? last.answer : ""}
        </p>
        <ol className="mt-8 space-y-10">
          {asking && <Coming asking={asking} onStop={stop} onForget={forget} />}
          {turns
            .map((turn, i) => ({ turn, after: turns.slice(0, i).map((one) => one.question) }))
            .reverse()
            .map(({ turn, after }) => (
              <Entry
                key={after.length}
                collection={collection}
                asked={{ question: turn.question, after, scope }}
                answer={turn.answer}
                shown={shown}
                onShow={(at) => pick({ answer: turn.answer, at })}
                onAgain={() => void send(turn.question, false)}
              />
            ))}
        </ol>
        {!begun && <Suggested collection={collection} onAsk={(q) => void send(q, true)} />}
        {!begun && <Kept collection={collection} />}
      </div>
      {begun && shown && (wide || over) && <Beside collection={collection} shown={shown} wide={wide} onPick={pick} onClose={() => setOver(false)} />}
    </div>
  )
}

type BesideProps = { collection: string; shown: Shown; wide: boolean; onPick: (shown: Shown) => void; onClose: () => void }

// Beside is the page of what is shown: next to the conversation where there is room, and over it
// when something was picked where there is not.
function Beside({ collection, shown, wide, onPick, onClose }: BesideProps) {
  const evidence = (high: string) => (
    <Evidence key={`${shown.answer.question} ${shown.at}`} collection={collection} shown={shown} onShow={(at) => onPick({ ...shown, at })} high={high} />
  )
  if (wide) {
    return (
      <aside aria-label={t("The cited page")} className="min-w-0 lg:sticky lg:top-4 lg:self-start">
        {evidence("max-h-[calc(100dvh-2rem)]")}
      </aside>
    )
  }
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Sheet title={t("The cited page")} wide>
        {evidence("")}
      </Sheet>
    </Dialog.Root>
  )
}
