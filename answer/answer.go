// Package answer answers questions from a collection's passages, and says so when they do
// not hold an answer.
//
// It invents nothing: every statement is a sentence, list item or table row of a document,
// word for word, with the page and the boxes that it stands in. A trained reader
// (package reader) decides which passage answers, with which sentences and in which words;
// what can be stated exactly is decided here: that a newer edition replaces an older one,
// that train 13 is not train 11, that a list is shown whole. How sure an answer is comes
// from a small model over a handful of signals; below a threshold the answer is that the
// documents do not say.
package answer

import (
	"time"

	"jardinet/index"
	"jardinet/modelapi"
)

// A State tells what came of a question.
type State string

// States of an answer.
const (
	Answered State = "answered"
	Partial  State = "partial" // of several things asked, some are answered
	NotFound State = "not_found"
)

// A Document is what an answer needs to know of one.
type Document struct {
	Name   string // file name
	Title  string
	Labels []string // printed page labels
	Added  time.Time
}

// A Box is a marked area of a page, in points from its top left.
type Box struct {
	Page int     `json:"page"`
	X0   float32 `json:"x0"`
	Y0   float32 `json:"y0"`
	X1   float32 `json:"x1"`
	Y1   float32 `json:"y1"`
}

// A Citation says where a statement stands.
type Citation struct {
	Number     int      `json:"number"` // from 1, as marked in the text
	DocumentID string   `json:"document_id"`
	Document   string   `json:"document"`
	Title      string   `json:"title"`
	Page       int      `json:"page"` // physical, of the first box
	Label      string   `json:"label"`
	Section    []string `json:"section"`
	Quote      string   `json:"quote"`
	Boxes      []Box    `json:"boxes"`
}

// A Statement is one sentence, list item or table row.
type Statement struct {
	Text      string `json:"text"`
	Citations []int  `json:"citations"`          // numbers
	Unproven  bool   `json:"unproven,omitempty"` // said by an outside model, and not supported
	// Contrary is where another document, or another edition, says otherwise: its
	// title and date. Empty for what belongs to the answer itself.
	Contrary string `json:"contrary,omitempty"`
}

// A Nearest is a passage shown when nothing answers.
type Nearest struct {
	DocumentID string   `json:"document_id"`
	Document   string   `json:"document"`
	Title      string   `json:"title"`
	Page       int      `json:"page"`
	Label      string   `json:"label"`
	Section    []string `json:"section"`
	Text       string   `json:"text"`
	Sentences  []Line   `json:"sentences"` // the text, sentence by sentence
}

// A Line is a sentence, list item or table row of a passage.
type Line struct {
	Page    int    `json:"page"`
	Text    string `json:"text"`
	Closest bool   `json:"closest,omitempty"` // comes closest to answering in its passage
	Boxes   []Box  `json:"boxes,omitempty"`   // where it stands, of one that comes closest
}

// Timing is what the stages took, in milliseconds.
type Timing struct {
	Search    float64 `json:"search"`
	Reading   float64 `json:"reading"`
	Composing float64 `json:"composing"`
	Model     float64 `json:"model,omitempty"` // an outside one
	Total     float64 `json:"total"`
}

func (t *Timing) add(o Timing) {
	t.Search += o.Search
	t.Reading += o.Reading
	t.Composing += o.Composing
	t.Model += o.Model
	t.Total += o.Total
}

// An Answer is what is given back.
type Answer struct {
	Question   string      `json:"question"`
	Standalone string      `json:"standalone"` // the question as it was read in its conversation
	State      State       `json:"state"`
	Short      string      `json:"short"`             // the words that answer; empty where the statements are the answer
	Verdict    string      `json:"verdict,omitempty"` // "yes" or "no", where that was asked and is sure
	Text       string      `json:"answer"`
	Statements []Statement `json:"statements"`
	Citations  []Citation  `json:"citations"`
	Parts      []Part      `json:"parts,omitempty"`  // where several things were asked in one
	List       bool        `json:"list,omitempty"`   // the statements are steps, or a list
	Taught     bool        `json:"taught,omitempty"` // somebody has shown where the answer stands
	// Maybe says that the first of the nearest passages may hold the answer, though not
	// surely enough to give it.
	Maybe      bool      `json:"maybe,omitempty"`
	Missing    []string  `json:"missing"` // words asked about that no nearest passage has
	Nearest    []Nearest `json:"nearest"`
	Confidence float64   `json:"confidence"`      // 0 to 1
	Added      string    `json:"added,omitempty"` // a sentence that the house style adds
	Note       string    `json:"note,omitempty"`  // how the answer was made, where a reader should know
	// LeftOut says which parts of the index could not be looked at, so that the answer may be another
	// one; nil if all were.
	LeftOut      *index.LeftOut `json:"left_out,omitempty"`
	Trace        *Trace         `json:"trace,omitempty"`        // only if it was asked for
	Conversation string         `json:"conversation,omitempty"` // the id under which the question is kept, if it is
	Timing       Timing         `json:"timing_ms"`

	Passages []Candidate    `json:"-"` // as they were read, the best first
	Unknown  []string       `json:"-"` // words asked that no document has
	Signals  Signals        `json:"-"` // that the confidence is made of
	Usage    modelapi.Usage `json:"-"` // of an outside model
}

// MostHeadline is how many words a short answer has at the most, unless it is a list.
const MostHeadline = 40

// Headline is what is read first: the words that answer, or else the first statements, as
// far as they go into forty words; all of them if a list was asked for.
func (a *Answer) Headline() string {
	if a.Short != "" && a.Verdict == "" {
		return a.Short
	}
	out := a.Short
	if len(a.Parts) > 0 {
		out = ""
		for _, p := range a.Parts {
			out += p.Short + "\n"
		}
	}
	for i, s := range a.Statements {
		if s.Contrary != "" || i > 0 && !a.List && len(a.Parts) == 0 && countWords(out)+countWords(s.Text) > MostHeadline {
			break
		}
		out += "\n" + s.Text
	}
	return out
}

// blank returns an answer that says nothing yet.
func blank(question string) *Answer {
	return &Answer{
		Question: question, Standalone: question, State: NotFound,
		Statements: []Statement{}, Citations: []Citation{}, Missing: []string{}, Nearest: []Nearest{},
	}
}
