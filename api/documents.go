package api

import (
	"time"

	"jardinet/answer"
)

// A Document describes one version of one file.
type Document struct {
	ID        string   `json:"id"`
	Name      string   `json:"name"`
	SHA256    string   `json:"sha256"`
	Size      int64    `json:"size"` // bytes
	State     string   `json:"state"`
	Reason    string   `json:"reason"`  // why it failed
	Warning   string   `json:"warning"` // what is amiss though it is ready
	Title     string   `json:"title"`
	Language  string   `json:"language"`
	Pages     int      `json:"pages"`
	PagesDone int      `json:"pages_done"`
	Passages  int      `json:"passages"`
	Encoded   int      `json:"encoded"`  // passages that are found by what they mean too
	Score     int      `json:"score"`    // mean of its pages' scores, 0 to 100
	Doubtful  int      `json:"doubtful"` // pages with a fault or doubts
	Tags      []string `json:"tags"`
	// Fields are named values, such as its author or the address that it came from.
	Fields  map[string]string `json:"fields,omitempty"`
	Added   time.Time         `json:"added"`
	Changed time.Time         `json:"changed"`
}

// Added tells what became of one file that was handed in.
type Added struct {
	Document  Document `json:"document"`
	Duplicate bool     `json:"duplicate"`        // the collection has this content already
	Within    string   `json:"within,omitempty"` // the archive or e-mail that it was in
}

// A Refused is a file that was not taken, and why.
type Refused struct {
	Name   string `json:"name"`
	Reason string `json:"reason"`
}

// A Page is what was read from one page.
type Page struct {
	Document string      `json:"document"`
	ID       string      `json:"document_id"`
	Title    string      `json:"title"`
	Number   int         `json:"number"` // physical
	Of       int         `json:"of"`
	Label    string      `json:"label"`
	Width    float32     `json:"width"` // points
	Height   float32     `json:"height"`
	Language string      `json:"language"`
	Problem  string      `json:"problem"`
	Score    int         `json:"score"` // 100 where nothing was found amiss
	Findings []Finding   `json:"findings"`
	Blocks   []PageBlock `json:"blocks"`
	Passages []PagePart  `json:"passages"` // that the page's text is cut into
	Lines    []PageLine  `json:"lines"`    // of text, where they stand
	Links    []PageLink  `json:"links"`    // to addresses outside the document

	Recognised int  `json:"recognised"` // confidence of text recognition in percent, 0 if the file has the text
	Recognise  bool `json:"recognise"`  // a person asked for text recognition
}

// An Intake tells how far a collection's documents on their way in have come.
type Intake struct {
	Paused         bool    `json:"paused"`
	ToGo           int     `json:"to_go"`            // documents
	PagesPerSecond float64 `json:"pages_per_second"` // in all collections, since there was last nothing to do
	// SecondsLeft is reckoned from the sizes of the files; nil as long as too little is known.
	SecondsLeft *float64 `json:"seconds_left"`
}

// A Heading is one line of a document's outline.
type Heading struct {
	Title string `json:"title"`
	Level int    `json:"level"`           // from 1
	Page  int    `json:"page"`            // physical
	Label string `json:"label"`           // as printed, empty where unknown
	About *Quote `json:"about,omitempty"` // a sentence of the chapter that says what it is about; in a digest
}

// A Hit is a place in a document where some words stand.
type Hit struct {
	Page   int          `json:"page"`
	Label  string       `json:"label"`
	Before string       `json:"before"` // of the text around the words
	Words  string       `json:"words"`
	After  string       `json:"after"`
	Boxes  []answer.Box `json:"boxes"`
}

// A PagePart is the part of a passage that stands on a page.
type PagePart struct {
	Ordinal int          `json:"ordinal"` // on the page, from 0
	Section []string     `json:"section"`
	Boxes   []answer.Box `json:"boxes"`
}

// A PageLine is a line of text on a page.
type PageLine struct {
	Text string     `json:"text"`
	Box  answer.Box `json:"box"`
}

// A PageLink is a part of a page that leads to an address.
type PageLink struct {
	Target string     `json:"target"`
	Box    answer.Box `json:"box"`
}

// A PageBlock is one block of a page in reading order.
type PageBlock struct {
	Kind  string     `json:"kind"`
	Level int        `json:"level"`
	Text  string     `json:"text"`
	Box   answer.Box `json:"box"`

	Corrected bool   `json:"corrected"` // by a person
	Was       string `json:"was"`       // its text as read, by which corrections name it
}

// Searchable tells whether a document has come as far as to be found by its words, or has
// failed.
func (d *Document) Searchable() bool {
	return d.State == "failed" || d.State == "replaced" || d.State == "ready"
}

// Settled tells whether nothing goes on with a document any more: it has failed, or it is
// ready and its passages are found by what they mean too.
func (d *Document) Settled() bool {
	return d.Searchable() && (d.State != "ready" || d.Encoded == d.Passages)
}

// A Finding is something about a page that its reader should know of.
type Finding struct {
	Severity string      `json:"severity"` // fault, doubt or remark
	Code     string      `json:"code"`
	Text     string      `json:"text"`
	Advice   string      `json:"advice"`
	Box      *answer.Box `json:"box"` // where, nil for the whole page
}

// A JudgedPage is a page with what was found about it.
type JudgedPage struct {
	Document string    `json:"document"`
	ID       string    `json:"document_id"`
	Number   int       `json:"number"`
	Label    string    `json:"label"`
	Score    int       `json:"score"` // 100 where there is nothing to find
	Findings []Finding `json:"findings"`
}

// A Removal is a document that was removed, with its versions, and can be put back.
type Removal struct {
	Name          string    `json:"name"`
	Versions      int       `json:"versions"`
	Pages         int       `json:"pages"`
	Conversations int       `json:"conversations,omitempty"` // that quoted it and were removed for good
	Removed       time.Time `json:"removed"`
	Until         time.Time `json:"until"` // when it will be gone for good
}
