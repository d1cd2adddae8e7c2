import { useEffect, useRef, useState } from "react"
import { Link, useNavigate, useParams, useSearchParams } from "react-router"

import { useAsking } from "../../api/asking"
import type { Scope } from "../../api/client"
import { useCollection, useConversation } from "../../api/queries"
import { Failure, Waiting } from "../../parts/notice"
import { PagePicture } from "../../parts/page-picture"
import { pageName } from "../../parts/place"
import { Coming } from "./coming"
import { Entry, type Spot, spotOf } from "./entry"
import { Kept } from "./kept"
import { Question } from "./question"
import { Where } from "./scope"

// Ask is a conversation: a column of questions with the answers as they were given, the newest on
// top, and beside it the page that the chosen citation stands on. Each question is asked once; its
// answer is kept and shown from there. An address with questions asks them, and becomes that of
// their conversation.
export function Ask() {
  const { collection = "", conversation = "" } = useParams()
  const [search] = useSearchParams()
  const go = useNavigate()
  const kept = useConversation(collection, conversation)
  const { asking, ask, stop, forget } = useAsking(collection)
  const [scope, setScope] = useState<Scope>({ tags: search.getAll("tag"), documents: search.getAll("document") })
  const [picked, setPicked] = useState<Spot>()
  const [unsent, setUnsent] = useState("")
  const turns = kept.data?.turns ?? []
  const last = turns.at(-1)?.answer
  const shown = picked ?? spotOf(last)

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
    <div className={begun ? "grid gap-10 lg:grid-cols-[minmax(0,10fr)_minmax(0,9fr)]" : "mx-auto max-w-2xl pt-[8vh]"}>
      <div>
        <Question key={unsent} collection={collection} follows={begun} unsent={unsent} busy={asking !== undefined && !asking.problem} onAsk={(q, afresh) => void send(q, afresh)} />
        <p className="mt-2">
          <Where collection={collection} scope={scope} onChange={setScope} />
        </p>
        <Told collection={collection} />
        {kept.isError && <Failure error={kept.error} />}
        {kept.isLoading && <Waiting what="Fetching the conversation…" />}
        <ol className="mt-8 space-y-10">
          {asking && <Coming asking={asking} onStop={stop} onForget={forget} />}
          {turns
            .map((turn, i) => ({ turn, after: turns.slice(0, i).map((t) => t.question) }))
            .reverse()
            .map(({ turn, after }) => (
              <Entry
                key={after.length}
                collection={collection}
                asked={{ question: turn.question, after, scope }}
                answer={turn.answer}
                shown={shown}
                onShow={setPicked}
                onAgain={() => void send(turn.question, false)}
              />
            ))}
        </ol>
        {!begun && <Kept collection={collection} />}
      </div>
      {begun && <Evidence collection={collection} spot={shown} />}
    </div>
  )
}

// Told says who else sees what is asked.
function Told({ collection }: { collection: string }) {
  const sharing = useCollection(collection)?.sharing
  if (!sharing?.questions && !sharing?.conversations) return null
  return (
    <p className="mt-2 text-sm text-quiet">
      {sharing.questions && "What is asked here is written into the audit. "}
      {sharing.conversations && "Owners of this collection can read conversations."}
    </p>
  )
}

// Evidence shows the page of a citation, with the lines marked.
function Evidence({ collection, spot }: { collection: string; spot: Spot | undefined }) {
  if (!spot) return <div />
  const { document, document_id, title, page, label, boxes } = spot
  return (
    <aside aria-label="The cited page" className="flex flex-col lg:sticky lg:top-6 lg:max-h-[calc(100dvh-3rem)] lg:self-start">
      <p className="mb-3 leading-snug">
        <span className="font-medium">{title || document}</span>
        <span className="figures block text-sm text-quiet">
          {document}, {pageName(page, label)} ·{" "}
          <Link to={`/c/${collection}/pages/${encodeURIComponent(document)}/${page}`} className="text-leaf underline">
            what was read here
          </Link>
        </span>
      </p>
      <div data-scrolls tabIndex={0} role="region" aria-label="Picture of the page" className="min-h-0 overflow-y-auto">
        <PagePicture collection={collection} document={document_id} number={page} marks={boxes} />
      </div>
    </aside>
  )
}
