// Package passage cuts documents into passages, the units of retrieval.
//
// A passage is a run of text under one section path, about as long as a recipe
// asks for, never across two sections and never inside a sentence. Each of its
// sentences knows on which pages and in which boxes it stands, which is what
// makes a citation. A row of a table is a sentence that carries the names of
// its columns, so that a question about a cell finds it.
package passage

import (
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/klauspost/compress/zstd"

	"jardinet/layout"
	"jardinet/pdf"
	"jardinet/text"
)

// A Recipe says how to cut. Lengths are in words.
type Recipe struct {
	Cut     Cut `json:"cut,omitempty"` // by structure if empty
	Target  int `json:"target"`        // length of a passage
	Overlap int `json:"overlap"`       // repeated at the start of the next one
}

// A Cut says where passages end.
type Cut string

// Ways to cut.
const (
	ByStructure Cut = "structure" // at sections, sentences and rows
	ByWords     Cut = "words"     // at so many words, across sections
	ByPage      Cut = "page"      // a page is a passage
)

// DefaultRecipe suits manuals and policies.
var DefaultRecipe = Recipe{Target: 100, Overlap: 20}

// Validate tells what is wrong with a recipe.
func (r Recipe) Validate() error {
	if r.Cut != "" && r.Cut != ByStructure && r.Cut != ByWords && r.Cut != ByPage {
		return fmt.Errorf("there is no cut %q: choose structure, words or page", r.Cut)
	}
	if r.Target < 20 || r.Target > 2000 {
		return fmt.Errorf("passage target of %d words: choose 20 to 2000", r.Target)
	}
	if r.Overlap < 0 || r.Overlap > r.Target/2 {
		return fmt.Errorf("passage overlap of %d words: choose 0 to half of the target (%d)", r.Overlap, r.Target/2)
	}
	return nil
}

// A Mark is a box on a page.
type Mark struct {
	Page int
	Box  pdf.Rect
}

// Marks is a list of marks that is compact when it is kept.
type Marks []Mark

// MarshalJSON writes the marks as one base64 string, boxes to a tenth of a
// point.
func (marks Marks) MarshalJSON() ([]byte, error) {
	out := make([]byte, 0, 12*len(marks))
	var last pdf.Rect
	for _, m := range marks {
		out = binary.AppendUvarint(out, uint64(m.Page))
		out = layout.AppendBox(out, m.Box, &last)
	}
	return json.Marshal(out)
}

// UnmarshalJSON reads what MarshalJSON writes.
func (marks *Marks) UnmarshalJSON(data []byte) error {
	var raw []byte
	if err := json.Unmarshal(data, &raw); err != nil {
		return err
	}
	*marks = nil
	var last pdf.Rect
	for len(raw) > 0 {
		page, n := binary.Uvarint(raw)
		if n <= 0 {
			return errors.New("passage: kept marks are damaged")
		}
		m := Mark{Page: int(page)}
		var err error
		if raw, err = layout.TakeBox(raw[n:], &m.Box, &last); err != nil {
			return err
		}
		*marks = append(*marks, m)
	}
	return nil
}

// A Sentence is a range of a passage's text and where it stands.
type Sentence struct {
	Start int         `json:"s"`
	End   int         `json:"e"`
	Kind  layout.Kind `json:"k,omitempty"` // paragraph if empty
	First bool        `json:"f,omitempty"` // begins its block
	Row   string      `json:"r,omitempty"` // what a row is one of: the name of its table's first column
	Marks Marks       `json:"m"`
}

// A Passage is what retrieval finds.
type Passage struct {
	Ordinal   int           `json:"n"`           // within its document, from 0
	Section   []string      `json:"p,omitempty"` // headings from the outermost to the innermost
	Text      string        `json:"t"`
	Sentences []Sentence    `json:"q"`
	Language  text.Language `json:"l"`
}

// Pages returns the physical pages that the passage stands on, in order.
func (p *Passage) Pages() []int {
	var out []int
	for _, s := range p.Sentences {
		for _, m := range s.Marks {
			if n := len(out); n == 0 || m.Page > out[n-1] {
				out = append(out, m.Page)
			}
		}
	}
	return out
}

// Rows returns what the rows in it are, each once: "Ticket".
func (p *Passage) Rows() string {
	var out []string
	for _, s := range p.Sentences {
		if s.Row != "" && !slices.Contains(out, s.Row) {
			out = append(out, s.Row)
		}
	}
	return strings.Join(out, " ")
}

// Heading returns what the passage is found under: its headings and what its rows are.
func (p *Passage) Heading() string { return strings.TrimSpace(p.SectionPath() + " " + p.Rows()) }

// SectionPath returns the headings joined for people.
func (p *Passage) SectionPath() string { return strings.Join(p.Section, " › ") }

// Passages are kept compressed. What is unpacked is bounded, since a damaged file
// may claim anything.
var (
	packer, _   = zstd.NewWriter(nil, zstd.WithEncoderConcurrency(0), zstd.WithEncoderCRC(false))
	unpacker, _ = zstd.NewReader(nil, zstd.WithDecoderConcurrency(0), zstd.WithDecoderMaxMemory(64<<20))
)

// Encode returns the passage as bytes for storage.
func Encode(p *Passage) ([]byte, error) {
	data, err := json.Marshal(p)
	if err != nil {
		return nil, fmt.Errorf("passage: encode: %w", err)
	}
	return packer.EncodeAll(data, nil), nil
}

// Decode reads what Encode wrote.
func Decode(data []byte) (*Passage, error) {
	raw, err := unpacker.DecodeAll(data, nil)
	if err != nil {
		return nil, fmt.Errorf("passage: decode: %w", err)
	}
	p := new(Passage)
	if err := json.Unmarshal(raw, p); err != nil {
		return nil, fmt.Errorf("passage: decode: %w", err)
	}
	return p, nil
}
