import { ChevronDown } from "lucide-react"
import { useNavigate } from "react-router"

import { useSetups } from "../../api/accuracy"
import type { Answer, Asked } from "../../api/client"
import { useEdits, useOwns } from "../../api/queries"
import { Item, Menu } from "../../parts/menu"
import { tell } from "../../parts/toast"
import { t } from "../../words"
import { asText } from "./as-text"

type Doing = "teaching" | "reporting" | undefined
type Props = {
  collection: string
  asked: Asked
  answer: Answer
  place: string
  doing: Doing
  onDo: (doing: Doing) => void
  onAgain: () => void
}

// Actions is what can be done with an answer.
export function Actions({ collection, asked, answer, place, doing, onDo, onAgain }: Props) {
  const edits = useEdits(collection)
  const missing = answer.state === "not_found"
  const look = "text-leaf underline underline-offset-4"
  const toggle = (wanted: Doing) => onDo(doing === wanted ? undefined : wanted)
  const copy = (text: string, said: string) => void navigator.clipboard.writeText(text).then(() => tell(said))
  const address = `${location.origin}/c/${collection}/ask/${answer.conversation ?? ""}#${place}`
  return (
    <div data-screen-only className="mt-4 flex flex-wrap gap-x-5 gap-y-1 text-sm">
      <button type="button" aria-expanded={doing === "reporting"} onClick={() => toggle("reporting")} className={look}>
        {missing ? t("Ask a person") : t("This is wrong")}
      </button>
      {edits && (
        <button type="button" aria-expanded={doing === "teaching"} onClick={() => toggle("teaching")} className={look}>
          {t("Show where it stands")}
        </button>
      )}
      <button type="button" onClick={() => copy(asText(asked, answer), t("The answer is on the clipboard, with its citations."))} className={look}>
        {t("Copy with citations")}
      </button>
      <button type="button" onClick={onAgain} className={look}>
        {t("Ask again")}
      </button>
      <Menu
        trigger={
          <>
            {t("More")} <ChevronDown aria-hidden className="size-4" />
          </>
        }
      >
        <Item onSelect={() => copy(address, t("The answer’s address is on the clipboard."))}>{t("Copy its address")}</Item>
        <Item onSelect={() => window.print()}>{t("Print the conversation")}</Item>
        {answer.conversation && (
          <>
            <Item href={savedAs(collection, answer.conversation, "markdown")} download={`${answer.conversation}.md`}>
              {t("Save the conversation as Markdown")}
            </Item>
            <Item href={savedAs(collection, answer.conversation, "pdf")} download={`${answer.conversation}.pdf`}>
              {t("Save the conversation as PDF")}
            </Item>
          </>
        )}
        <Compare collection={collection} question={asked.question} />
      </Menu>
    </div>
  )
}

const savedAs = (collection: string, conversation: string, format: string) =>
  `/api/v1/collections/${encodeURIComponent(collection)}/conversations/${conversation}?format=${format}`

// Compare puts the same question to a trial beside the set-up that is live.
function Compare({ collection, question }: { collection: string; question: string }) {
  const owns = useOwns(collection)
  const go = useNavigate()
  const setups = useSetups(collection, owns)
  if (!setups.data?.trials.some((trial) => trial.ready)) return null
  return <Item onSelect={() => void go(`/c/${collection}/accuracy/setups?q=${encodeURIComponent(question)}#both`)}>{t("Compare with another set-up")}</Item>
}
