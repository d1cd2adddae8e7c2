import type { Block } from "../api/client"

// The colour and the plain name of each kind of block.
export const kinds: Record<Block["kind"], { ink: string; name: string }> = {
  heading: { ink: "#2f5d8a", name: "Heading" },
  paragraph: { ink: "#3f7d3a", name: "Paragraph" },
  list: { ink: "#1f807a", name: "List item" },
  table: { ink: "#b07414", name: "Table" },
  figure: { ink: "#8a3f6b", name: "Figure" },
  caption: { ink: "#8a6d3f", name: "Caption" },
  footnote: { ink: "#5f5f5f", name: "Footnote" },
  contents: { ink: "#5f5f5f", name: "Line of contents" },
  furniture: { ink: "#8c8475", name: "Header or footer" },
}
