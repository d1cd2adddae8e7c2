package api

import (
	"time"

	"jardinet/answer"
)

// A Quote is words of a document and where they stand.
type Quote struct {
	Text      string       `json:"text"`
	Page      int          `json:"page"`                // physical
	Label     string       `json:"label"`               // as printed, empty where unknown
	Section   []string     `json:"section"`             // headings from the outermost to the innermost
	Boxes     []answer.Box `json:"boxes"`               // on the pages that it stands on
	Document  string       `json:"document,omitempty"`  // where several are summed up
	Corrected bool         `json:"corrected,omitempty"` // an editor has worded it
	ID        string       `json:"id,omitempty"`        // of a sentence of a digest, by which an editor changes it
}

// A Digest is what a document holds at a glance, in its own words.
type Digest struct {
	Document string    `json:"document"`
	ID       string    `json:"document_id"`
	Title    string    `json:"title"`
	Pages    int       `json:"pages"`
	Made     time.Time `json:"made"`
	Outline  []Heading `json:"outline"`
	Summary  []Quote   `json:"summary"` // five sentences
	OnePage  []Quote   `json:"page"`    // about a page of them
	Chapters []Chapter `json:"chapters"`
	Terms    []Term    `json:"terms"`
	Dates    []Date    `json:"dates"` // in the order of time: days, then those of each year, then periods
	Figures  []Figure  `json:"figures"`
	Duties   []Duty    `json:"duties"`
	Offices  []Office  `json:"offices"`
	Dropped  int       `json:"dropped"` // lines that editors took out
}

// A Chapter is what a chapter of the first level says in three sentences.
type Chapter struct {
	Title   string  `json:"title"`
	Page    int     `json:"page"`
	Label   string  `json:"label"`
	Summary []Quote `json:"summary"`
}

// A Term is what a document defines or writes short.
type Term struct {
	ID    string `json:"id"`
	Term  string `json:"term"`
	Means string `json:"means"`
	Short bool   `json:"short"` // an abbreviation
	Quote Quote  `json:"quote"`
}

// A Date is a day, a month, a year or a period that a document names.
type Date struct {
	ID       string `json:"id"`
	When     string `json:"when"`     // as ISO 8601 has it: 2026-01-31, 2026-01, 2026, --01-31 for each year, P14D for a period
	Words    string `json:"words"`    // as it stands
	Deadline bool   `json:"deadline"` // something has to be done by then
	Quote    Quote  `json:"quote"`
}

// A Figure is a number of a document with its unit.
type Figure struct {
	ID      string  `json:"id"`
	Value   float64 `json:"value"`
	To      float64 `json:"to"` // the end of a range; else the value
	Unit    string  `json:"unit"`
	Measure bool    `json:"measure"` // the unit is one of measurement, and no counted thing
	Bound   string  `json:"bound"`   // "at most", "at least" or "about"; empty where it is exact
	Words   string  `json:"words"`   // as it stands
	Of      string  `json:"of"`      // a row and a column, or the heading
	Quote   Quote   `json:"quote"`
}

// A Duty is a sentence that says what must, must not, should or may be done.
type Duty struct {
	ID     string `json:"id"`
	Force  string `json:"force"`
	Who    string `json:"who"`    // or what; empty where nobody is named
	Number string `json:"number"` // of the requirement as it stands in the text
	Quote  Quote  `json:"quote"`
}

// An Office is somebody whom a document gives duties.
type Office struct {
	Name   string   `json:"name"`
	Duties []string `json:"duties"` // their ids
	Tasks  []Quote  `json:"tasks"`  // what it says that they do
}

// A DigestEdit is what an editor makes of a line of a digest.
type DigestEdit struct {
	Drop bool   `json:"drop,omitempty"`
	Text string `json:"text,omitempty"` // that stands for it from now on
}

// Changes are what a later edition of a document says otherwise than an earlier one.
type Changes struct {
	Before  string   `json:"before"` // the earlier document
	After   string   `json:"after"`
	Changes []Change `json:"changes"` // in the order of the later one; what was dropped comes last
}

// A Change is a line that was changed, added or dropped.
type Change struct {
	Before  *Quote `json:"before,omitempty"` // missing for what was added
	After   *Quote `json:"after,omitempty"`  // missing for what was dropped
	Figures []Swap `json:"figures"`          // numbers that are others
}

// A Swap is a number in the place of another.
type Swap struct {
	Before string `json:"before"`
	After  string `json:"after"`
}
