import type { Answer, Citation } from "../../api/client"

// A Spot is a place in a document that an answer shows: a citation, or what comes closest.
export type Spot = Pick<Citation, "document_id" | "document" | "title" | "page" | "label" | "boxes"> & { quote: string }

// Shown is one of the places of an answer.
export type Shown = { answer: Answer; at: number }

// Shows is told which place of an answer to show.
export type Shows = (at: number) => void

// spotsOf are the places that an answer shows, in their order.
export function spotsOf(answer: Answer): Spot[] {
  if (answer.citations.length > 0) return answer.citations
  return answer.nearest.map((n) => {
    const closest = n.sentences.filter((s) => s.closest)
    const boxes = closest.flatMap((s) => s.boxes ?? [])
    return { ...n, page: boxes[0]?.page ?? n.page, boxes, quote: closest.map((s) => s.text).join(" ") }
  })
}
