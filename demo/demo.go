// Package demo carries the documents of a made-up organisation, the Halvern
// Botanic Trust, their glossary and lessons, and questions about them. The documents are made
// by demo/generate from the texts in demo/texts.
package demo

import (
	"embed"
	"io/fs"
)

// Collection is the name that the documents are known under.
const Collection = "halvern"

// Description says what the collection is for.
const Description = "Manuals, policies and reports of the Halvern Botanic Trust, a made-up botanical garden, to try things out on."

var (
	//go:embed all:documents
	documents embed.FS
	//go:embed glossary.csv
	glossary []byte
	//go:embed lessons.jsonl
	lessons []byte
)

// Glossary returns what readers call the things that the documents speak of, as
// CSV.
func Glossary() []byte { return glossary }

// Lessons returns what readers ask in their own words, with where the answers stand, as
// a question set.
func Lessons() []byte { return lessons }

// Documents returns the PDF files.
func Documents() fs.FS {
	files, err := fs.Sub(documents, "documents")
	if err != nil {
		panic(err) // the path is a constant
	}
	return files
}
