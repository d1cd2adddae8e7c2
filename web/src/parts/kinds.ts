import type { Block } from "../api/client"
import { t } from "../words"

// The colour and the plain name of each kind of block.
export const kinds: Record<Block["kind"], { ink: string; name: string }> = {
  heading: { ink: "#2f5d8a", name: t("Heading") },
  paragraph: { ink: "#3f7d3a", name: t("Paragraph") },
  list: { ink: "#1f807a", name: t("List item") },
  table: { ink: "#b07414", name: t("Table") },
  figure: { ink: "#8a3f6b", name: t("Drawing or picture") },
  caption: { ink: "#8a6d3f", name: t("Caption") },
  footnote: { ink: "#5f5f5f", name: t("Footnote") },
  contents: { ink: "#5f5f5f", name: t("Line of contents") },
  furniture: { ink: "#8c8475", name: t("Header or footer") },
}
