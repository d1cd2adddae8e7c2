import { Trash2 } from "lucide-react"
import { Link } from "react-router"

import type { Schemas } from "../../api/client"
import { useConversations, useRemoveConversation } from "../../api/queries"
import { Confirm } from "../../parts/confirm"
import { Failure } from "../../parts/notice"
import { Sought } from "../../parts/sought"
import { day, t } from "../../words"

// Kept lists the conversations that one has had, to go on with or to take along.
export function Kept({ collection }: { collection: string }) {
  const conversations = useConversations(collection)
  if (conversations.isError) return <Failure error={conversations.error} />
  if (!conversations.data?.length) return null
  return (
    <section className="mt-14">
      <h2 className="text-lg">{t("Conversations")}</h2>
      <Sought all={conversations.data} words={(c) => c.first} what={t("Words of the first question")}>
        {(shown) => (
          <ul className="mt-3 divide-y divide-line border-y border-line">
            {shown.map((c) => (
              <Row key={c.id} collection={collection} conversation={c} />
            ))}
          </ul>
        )}
      </Sought>
    </section>
  )
}

function Row({ collection, conversation }: { collection: string; conversation: Schemas["Conversation"] }) {
  const remove = useRemoveConversation(collection)
  const file = `/api/v1/collections/${encodeURIComponent(collection)}/conversations/${conversation.id}?format=`
  return (
    <li className="flex flex-wrap items-baseline gap-x-5 gap-y-1 py-2.5">
      <Link to={`/c/${collection}/ask/${conversation.id}`} className="min-w-0 grow hover:underline">
        {conversation.first}
      </Link>
      <span className="figures flex items-baseline gap-4 text-sm text-quiet">
        {day(conversation.changed)}
        <a href={`${file}markdown`} download={`${conversation.id}.md`} className="text-leaf underline">
          {t("text")}
        </a>
        <a href={`${file}questions`} download={`${conversation.id}.jsonl`} className="text-leaf underline">
          {t("question set")}
        </a>
        <Confirm
          trigger={
            <button type="button" aria-label={t("Remove “{first}”", { first: conversation.first })} className="p-1 hover:text-brick">
              <Trash2 aria-hidden className="size-4" />
            </button>
          }
          title={t("Remove this conversation?")}
          text={t("Its questions and answers will be gone; documents and measurements stay.")}
          action={t("Remove")}
          onConfirm={() => remove.mutate(conversation.id)}
        />
      </span>
    </li>
  )
}
