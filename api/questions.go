package api

import (
	"encoding/json"
	"fmt"
	"net/url"
	"strings"
	"time"

	"jardinet/answer"
	"jardinet/index"
	"jardinet/measure"
	"jardinet/rank"
)

// An Ask is a question with what it goes with.
type Ask struct {
	Question     string   `json:"question"`
	After        []string `json:"after,omitempty"`        // earlier questions of the conversation, the oldest first
	Conversation string   `json:"conversation,omitempty"` // a kept one that it belongs to, or "new" for one to be kept
	Scope
	Schema json.RawMessage `json:"schema,omitempty"` // a JSON Schema that the answer shall have the form of
	Trace  bool            `json:"trace,omitempty"`  // have the answer tell how it came about
}

// Passages are what was found for a query, the best first.
type Passages struct {
	Query    string         `json:"query"`
	Passages []Found        `json:"passages"`
	LeftOut  *index.LeftOut `json:"left_out,omitempty"` // which parts of the index could not be looked at; nil if all were
}

// A Found is a passage that was found.
type Found struct {
	Rank       int          `json:"rank"`
	Score      float64      `json:"score"`
	DocumentID string       `json:"document_id"`
	Document   string       `json:"document"`
	Title      string       `json:"title"`
	Pages      []int        `json:"pages"` // physical
	Label      string       `json:"label"` // of the first
	Section    []string     `json:"section"`
	Text       string       `json:"text"`
	Boxes      []answer.Box `json:"boxes,omitempty"` // where its lines stand; only if it was asked how the scores came about
	// Explain tells how the score came about; only if it was asked for.
	Explain *Explained `json:"explain,omitempty"`
}

// An Explained is the parts of a passage's score: each feature times its weight.
type Explained struct {
	Features rank.Features `json:"features"`
	Weights  rank.Weights  `json:"weights"`
}

// An Understood is how a query was understood.
type Understood struct {
	Terms []UnderstoodTerm `json:"terms"`
}

// An UnderstoodTerm is one word looked for.
type UnderstoodTerm struct {
	Word     string   `json:"word"`
	Passages int      `json:"passages"` // that have it
	IDF      float64  `json:"idf"`
	Like     []string `json:"like"` // stems that will do as well
}

// A Scope says which documents are looked in; all of a collection if it is empty.
type Scope struct {
	Documents []string          `json:"documents,omitempty"` // names
	Tags      []string          `json:"tags,omitempty"`      // all of which a document has
	Language  string            `json:"language,omitempty"`  // most of the document is in, such as "fr"
	Where     map[string]string `json:"where,omitempty"`     // fields that a document has
	Since     string            `json:"since,omitempty"`     // day on or after which it was put in, such as 2026-01-31
}

// A Conversation is questions that were asked one after another and are kept.
type Conversation struct {
	ID      string    `json:"id"`
	Created time.Time `json:"created"`
	Changed time.Time `json:"changed"`
	First   string    `json:"first"` // question
	Turns   []Turn    `json:"turns,omitempty"`
}

// A Turn is one question of a conversation with its answer.
type Turn struct {
	Asked    time.Time      `json:"asked"`
	Question string         `json:"question"`
	Answer   *answer.Answer `json:"answer"`
}

// Markdown words a conversation for people, with links to the pages cited, which
// are relative to the service's address.
func (c *Conversation) Markdown(collection string) string {
	var b strings.Builder
	for _, t := range c.Turns {
		fmt.Fprintf(&b, "## %s\n\n", t.Question)
		if t.Answer.Short != "" {
			fmt.Fprintf(&b, "**%s**\n\n", t.Answer.Short)
		}
		if len(t.Answer.Statements) == 0 {
			fmt.Fprintf(&b, "%s\n\n", t.Answer.Text)
		}
		for _, s := range t.Answer.Statements {
			b.WriteString("> " + strings.ReplaceAll(s.Text, "\n", " "))
			for _, n := range s.Citations {
				fmt.Fprintf(&b, " [%d]", n)
			}
			b.WriteString("\n>\n")
		}
		b.WriteString("\n")
		for _, cite := range t.Answer.Citations {
			fmt.Fprintf(&b, "%d. [%s, page %d](/c/%s/pages/%s/%d)", cite.Number, cite.Document, cite.Page, url.PathEscape(collection), url.PathEscape(cite.Document), cite.Page)
			if len(cite.Section) > 0 {
				b.WriteString(", " + strings.Join(cite.Section, " › "))
			}
			b.WriteString("\n")
		}
		b.WriteString("\n")
	}
	return strings.TrimSpace(b.String()) + "\n"
}

// Questions makes a question set of a conversation: each answer as it was given,
// with the pages that it cites for its evidence, to be corrected by a person.
func (c *Conversation) Questions() []measure.Question {
	var out []measure.Question
	var after []string
	for i, t := range c.Turns {
		q := measure.Question{ID: fmt.Sprintf("%s-%d", strings.ToLower(c.ID), i+1), Question: t.Question, After: after}
		if t.Answer.State == answer.NotFound {
			q.Answerable = new(bool)
		} else if q.Answer = t.Answer.Short; q.Answer == "" && len(t.Answer.Statements) > 0 {
			q.Answer = t.Answer.Statements[0].Text
		}
		for _, cite := range t.Answer.Citations {
			q.Evidence = append(q.Evidence, measure.Evidence{Document: cite.Document, Page: cite.Page, Quote: cite.Quote})
		}
		out = append(out, q)
		after = append(after[:len(after):len(after)], t.Question)
	}
	return out
}

// An Across is what one of several collections answers.
type Across struct {
	Collection string         `json:"collection"`
	Answer     *answer.Answer `json:"answer"`
}
