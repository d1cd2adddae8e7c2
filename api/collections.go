package api

import (
	"time"

	"jardinet/measure"
	"jardinet/modelapi"
	"jardinet/passage"
	"jardinet/rank"
)

// A Recipe is the settings that make an index.
type Recipe struct {
	Name    string         `json:"name"`
	Version int            `json:"version"`
	Passage passage.Recipe `json:"passage"`
	// Retrieval is what passages are found by: words, meaning, or, if empty, both.
	Retrieval rank.By `json:"retrieval,omitempty"`
	// Embedding is where vectors come from; nil for those of the program.
	Embedding *Embedding `json:"embedding,omitempty"`
	// Ranking overrides how much each part of ranking counts.
	Ranking *rank.Weights `json:"ranking,omitempty"`
}

// DefaultRecipe is what a collection starts with.
var DefaultRecipe = Recipe{Name: "default", Version: 1, Passage: passage.DefaultRecipe}

// Collection describes a collection.
type Collection struct {
	Name      string         `json:"name"`
	Created   time.Time      `json:"created"`
	Recipe    Recipe         `json:"recipe"`
	Documents map[string]int `json:"documents"` // by state
	Pages     int            `json:"pages"`     // of ready documents
	Passages  int            `json:"passages"`
	Languages []string       `json:"languages"`
	Sharing   Sharing        `json:"sharing"`
	// Description says in a sentence or two what the collection is for.
	Description string `json:"description"`
	Bytes       int64  `json:"bytes"`             // of its documents' originals, without older versions
	Doubtful    int    `json:"doubtful"`          // pages of ready documents with a fault or doubts
	Reports     int    `json:"reports,omitempty"` // that nobody has seen to; for owners
	Paused      bool   `json:"paused"`            // its intake waits
	Right       string `json:"right"`             // of the caller: "reader", "editor", "owner" or "administrator"
}

// An Embedding is an outside server that a collection's vectors come from.
type Embedding struct {
	modelapi.Server
	Dimensions int `json:"dimensions,omitempty"` // found out when it is set
}

// A Glossary is what a collection knows of its own language.
type Glossary struct {
	Entries []rank.Entry  `json:"entries"` // given by people
	Found   []rank.Entry  `json:"found"`   // abbreviations that the documents explain
	Unknown []UnknownWord `json:"unknown"` // words asked for that no document has
}

// A Lesson is a question to which somebody has shown where its answer stands.
type Lesson struct {
	ID       string             `json:"id"` // of its words
	Question string             `json:"question"`
	After    []string           `json:"after,omitempty"`
	Evidence []measure.Evidence `json:"evidence"`
	// Problem is why the lesson cannot be used now: its document is gone, or says it in
	// other words. Empty for one that is used.
	Problem string `json:"problem,omitempty"`
}

// LessonsOf makes lessons of the questions of a set that have an answer.
func LessonsOf(set *measure.Set) []Lesson {
	var out []Lesson
	for _, q := range set.Questions {
		if q.CanBeAnswered() {
			out = append(out, Lesson{Question: q.Question, After: q.After, Evidence: q.Evidence})
		}
	}
	return out
}

// Asked is the lesson as a question of a question set.
func (l *Lesson) Asked() measure.Question {
	return measure.Question{ID: l.ID, Question: l.Question, After: l.After, Evidence: l.Evidence}
}

// An UnknownWord is one that readers asked for and no document has.
type UnknownWord struct {
	Word     string `json:"word"`
	Asked    int    `json:"asked"`    // how often
	Question string `json:"question"` // the last one with it
}
