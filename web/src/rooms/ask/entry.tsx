import { useEffect, useRef, useState } from "react"
import { useLocation } from "react-router"

import type { Answer, Asked } from "../../api/client"
import { useTeach } from "../../api/queries"
import { Failure } from "../../parts/notice"
import { Actions } from "./actions"
import { Body } from "./body"
import { NotFound } from "./not-found"
import { Report } from "./report"
import type { Shown, Shows } from "./spots"
import { Teach, type Shows as Teaches } from "./teach"
import { Trace } from "./trace"

type Props = { collection: string; asked: Asked; answer: Answer; shown: Shown | undefined; onShow: Shows; onAgain: () => void }

// Entry is one question with the answer that was given to it. What was taught since shows when
// it is asked again.
export function Entry({ collection, asked, answer, shown, onShow, onAgain }: Props) {
  const [doing, setDoing] = useState<"teaching" | "reporting">()
  const teach = useTeach(collection)
  const place = `answer-${asked.after.length + 1}`
  const entry = useRef<HTMLLIElement>(null)
  const { hash } = useLocation()
  useEffect(() => {
    if (hash === `#${place}`) entry.current?.scrollIntoView()
  }, [hash, place])
  const taught = () => {
    setDoing(undefined)
    onAgain()
  }
  const show: Teaches = (at) => teach.mutate([{ question: asked.question, after: asked.after, evidence: [at] }], { onSuccess: taught })
  const at = shown?.answer === answer ? shown.at : -1
  return (
    <li ref={entry} id={place} className="scroll-mt-4 border-t border-line pt-5">
      <h2 className="text-xl break-words">{asked.question}</h2>
      {answer.state === "not_found" ? (
        <NotFound answer={answer} at={at} onShow={onShow} onTeach={doing === "teaching" ? show : undefined} />
      ) : (
        <Body answer={answer} at={at} onShow={onShow} />
      )}
      <Actions collection={collection} asked={asked} answer={answer} place={place} doing={doing} onDo={setDoing} onAgain={onAgain} />
      {doing === "reporting" && <Report collection={collection} asked={asked} answer={answer} />}
      {doing === "teaching" && <Teach collection={collection} answer={answer} busy={teach.isPending} onShow={show} />}
      {teach.isError && <Failure error={teach.error} />}
      <Trace collection={collection} asked={asked} />
    </li>
  )
}
