import { useState } from "react"

import { type Digest, type Plain as Said, plainAs, usePlain } from "../../api/digest"
import { Ticked } from "../../parts/checkbox"
import { Choose } from "../../parts/choose"
import { Failure, Waiting } from "../../parts/notice"
import { number, t } from "../../words"
import { type At, Line } from "./line"

// Plain says a chapter in plain words, each sentence beside what it stands for.
export function Plain({ digest, collection, document, shown, onShow }: { digest: Digest } & At) {
  const chapters = chaptersOf(digest)
  const [chapter, setChapter] = useState(0)
  const [changed, setChanged] = useState(true)
  const { from, to } = chapters[chapter] ?? { from: 1, to: undefined }
  const plain = usePlain(collection, document, from, to)
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center gap-x-6 gap-y-2">
        {chapters.length > 1 && <Choose quiet label={t("Chapter")} value={String(chapter)} onChange={(v) => setChapter(Number(v))} of={chapters.map((c, i) => [String(i), c.title])} />}
        <Ticked checked={changed} label={t("Only what became plainer")} onChange={setChanged} />
        <a href={plainAs(collection, document, from, to)} download={`${document}-plain.md`} className="text-leaf underline underline-offset-4">
          {t("Save it as Markdown")}
        </a>
      </div>
      {plain.isPending && <Waiting what={t("Cutting long sentences…")} />}
      {plain.isError && <Failure error={plain.error} />}
      {plain.data && (
        <>
          <Ease plain={plain.data} />
          <Sentences of={plain.data.sentences.filter((s) => !changed || plainer(s))} shown={shown} onShow={onShow} />
        </>
      )}
    </>
  )
}

function Ease({ plain }: { plain: Said }) {
  const { before, after } = plain
  const values = { before: number(Math.round(before.ease)), after: number(Math.round(after.ease)), words: number(before.words_per_sentence, 1), fewer: number(after.words_per_sentence, 1) }
  return (
    <p className="figures mb-4 text-sm text-quiet">
      {t("Reading ease {after}, before {before}; {fewer} words a sentence, before {words}.", values)} {t("Above 60 is plain, under 30 is hard. Nothing is worded anew.")}
    </p>
  )
}

type Sentence = Said["sentences"][number]

const plainer = (s: Sentence) => s.parts.length > 1 || s.parts[0] !== s.quote.text || s.terms.length > 0

function Sentences({ of, shown, onShow }: { of: Sentence[] } & Pick<At, "shown" | "onShow">) {
  if (of.length === 0) return <p className="text-quiet">{t("Nothing here could safely be made plainer.")}</p>
  return (
    <ul className="space-y-4">
      {of.map((s, i) => (
        <li key={i}>
          <div className="px-2">
            {s.parts.map((part) => (
              <p key={part}>{part}</p>
            ))}
            {s.terms.map((term) => (
              <p key={term.id} className="text-sm">
                <strong>{term.term}</strong>: {term.means}
              </p>
            ))}
          </div>
          <div className="mt-1 ml-2 border-l-2 border-line text-sm text-quiet">
            <Line quote={s.quote} shown={shown} onShow={onShow} />
          </div>
        </li>
      ))}
    </ul>
  )
}

// mostPages is how many pages are said at once; a longer chapter is said as far as that.
const mostPages = 100

// chaptersOf are the chapters of the first level with their pages.
function chaptersOf(digest: Digest) {
  return digest.chapters.map((c, i) => {
    const next = digest.chapters[i + 1]
    const to = next ? Math.max(c.page, next.page - 1) : digest.pages
    return { title: c.title, from: c.page, to: Math.min(to, c.page + mostPages - 1) }
  })
}
