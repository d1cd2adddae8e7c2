package api

import (
	"encoding/json"
	"time"

	"jardinet/answer"
	"jardinet/measure"
	"jardinet/rank"
)

// A Setup is what a collection's answers are made with: how its index is made, and how answers
// are chosen.
type Setup struct {
	Recipe     Recipe  `json:"recipe"`
	Certain    float64 `json:"certain,omitempty"`    // confidence from which an answer is given; 0 for the fitted one
	Passages   int     `json:"passages,omitempty"`   // that are read for an answer; 0 for twelve
	Statements int     `json:"statements,omitempty"` // of an answer, at most; 0 for three
}

// Essence is the set-up without what only names it.
func (s *Setup) Essence() Setup {
	out := *s
	out.Recipe.Name, out.Recipe.Version = "", 0
	if out.Recipe.Retrieval == rank.Both {
		out.Recipe.Retrieval = ""
	}
	return out
}

// SameIndex tells whether two set-ups make and search the index in the same way.
func (s *Setup) SameIndex(o *Setup) bool {
	a, b := s.Essence(), o.Essence()
	x, errX := json.Marshal(a.Recipe)
	y, errY := json.Marshal(b.Recipe)
	return errX == nil && errY == nil && string(x) == string(y)
}

// A Job is work that takes a while: a measurement, a trial's index, drafting, a sweep.
type Job struct {
	ID         string    `json:"id"`
	Kind       string    `json:"kind"` // "measurement", "trial", "draft" or "sweep"
	What       string    `json:"what"` // in words
	Collection string    `json:"collection"`
	State      JobState  `json:"state"`
	Done       int       `json:"done"`
	Of         int       `json:"of"`
	Started    time.Time `json:"started"`
	Left       float64   `json:"left,omitempty"`    // seconds, about
	Result     string    `json:"result,omitempty"`  // id or name of what it made
	Problem    string    `json:"problem,omitempty"` // why it failed
}

// A JobState tells how far a job is.
type JobState string

// States of jobs.
const (
	Waiting   JobState = "waiting"
	Running   JobState = "running"
	Done      JobState = "done"
	Failed    JobState = "failed"
	Cancelled JobState = "cancelled"
)

// Ended tells whether nothing more comes of a job.
func (j *Job) Ended() bool { return j.State != Waiting && j.State != Running }

// A QuestionSet is a kept question set.
type QuestionSet struct {
	Name      string             `json:"name"`
	Version   int                `json:"version"`
	Created   time.Time          `json:"created"`
	Changed   time.Time          `json:"changed"`
	Questions int                `json:"questions"`
	Drafts    int                `json:"drafts"`
	All       []measure.Question `json:"all,omitempty"`
}

// A SetReview is what a person should look at in a question set.
type SetReview struct {
	Stale      []StaleEvidence `json:"stale"`
	Duplicates []Duplicate     `json:"duplicates"`
	Coverage   []Covered       `json:"coverage"`
}

// StaleEvidence is a page that no longer says what proved the answer.
type StaleEvidence struct {
	Question string           `json:"question"` // id
	Evidence measure.Evidence `json:"evidence"`
	Problem  string           `json:"problem"`
}

// A Duplicate is a question that asks nearly the same as another of the set.
type Duplicate struct {
	Question string  `json:"question"` // id
	Of       string  `json:"of"`
	Alike    float64 `json:"alike"` // cosine
}

// Covered is a section of a document, and how many questions touch it.
type Covered struct {
	Document  string `json:"document"`
	Section   string `json:"section"`
	Page      int    `json:"page"` // where it begins
	Pages     int    `json:"pages"`
	Questions int    `json:"questions"`
	Drafts    int    `json:"drafts"`
}

// A Trial is a set-up with an index of its own beside the live one.
type Trial struct {
	Name     string    `json:"name"`
	Setup    Setup     `json:"setup"`
	Changed  time.Time `json:"changed"`
	Ready    bool      `json:"ready"`
	Passages int       `json:"passages"`
	Outdated bool      `json:"outdated"` // documents have changed since it was made
	Contents string    `json:"contents"` // hash of the documents that it was made of
}

// A PastSetup is one that was live.
type PastSetup struct {
	Version int       `json:"version"`
	Setup   Setup     `json:"setup"`
	Since   time.Time `json:"since"`
	Why     string    `json:"why"` // it was replaced
}

// A Report is what a reader says of an answer.
type Report struct {
	Question string    `json:"question"`
	After    []string  `json:"after,omitempty"`
	Answer   string    `json:"answer,omitempty"` // that was given
	Says     string    `json:"says"`             // "wrong", "missing" or "right"
	Comment  string    `json:"comment,omitempty"`
	By       string    `json:"by,omitempty"`
	At       time.Time `json:"at"`
	ID       string    `json:"id,omitempty"`
	Done     bool      `json:"done,omitempty"` // an owner has seen to it
}

// A ToJudge is an answer for a person to judge. Which measurement it is of is not told where
// several are judged together.
type ToJudge struct {
	Ticket    string             `json:"ticket"` // names the answer when it is judged
	Question  string             `json:"question"`
	Expected  string             `json:"expected,omitempty"`
	Answer    string             `json:"answer"`
	Refused   bool               `json:"refused"`
	Citations []answer.Citation  `json:"citations"`
	Evidence  []measure.Evidence `json:"evidence"`
	Left      int                `json:"left"` // with this one
	Of        int                `json:"of"`
}

// A Judged is a person's verdict on a ticket.
type Judged struct {
	Ticket  string            `json:"ticket"`
	Says    measure.Judgement `json:"says"`
	Cause   measure.Cause     `json:"cause,omitempty"`
	Better  *measure.Evidence `json:"better,omitempty"`
	Comment string            `json:"comment,omitempty"`
}

// Judging is how far people have come with the answers of a measurement.
type Judging struct {
	Judges     map[string]int      `json:"judges"` // answers that each has judged
	Agreements []measure.Agreement `json:"agreements"`
	Verdicts   []measure.Verdict   `json:"verdicts"`
}

// A SweepPlan is what a sweep tries: every combination of the values, or a random draw of
// them where there are more than fit into the time.
type SweepPlan struct {
	Set       string    `json:"set"`
	Targets   []int     `json:"targets,omitempty"`   // words of a passage
	Overlaps  []int     `json:"overlaps,omitempty"`  // words
	Cuts      []string  `json:"cuts,omitempty"`      // structure, words or page
	Retrieval []string  `json:"retrieval,omitempty"` // words, meaning or both
	Passages  []int     `json:"passages,omitempty"`  // read for an answer
	Certain   []float64 `json:"certain,omitempty"`   // thresholds
	Minutes   float64   `json:"minutes,omitempty"`   // at most; 0 for ten
	Figure    string    `json:"figure,omitempty"`    // to be best in; empty for the share of questions that come out as they should
	Seed      uint64    `json:"seed,omitempty"`
}

// A Sweep is what came of a plan.
type Sweep struct {
	ID      string         `json:"id"`
	Plan    SweepPlan      `json:"plan"`
	Created time.Time      `json:"created"`
	Live    Tried          `json:"live"`
	Tried   []Tried        `json:"tried"` // the best first
	Best    int            `json:"best"`  // in Tried; -1 if none is better than the live set-up
	Folds   int            `json:"folds"`
	Honest  measure.Figure `json:"honest"`  // the figure, on questions about documents that the choice was not made by
	P       float64        `json:"p"`       // of so large a difference between the best and the live one
	Stopped int            `json:"stopped"` // given up early as clear losers
	Skipped int            `json:"skipped"` // for lack of time
}

// Tried is one set-up of a sweep.
type Tried struct {
	Setup     Setup          `json:"setup"`
	Figure    measure.Figure `json:"figure"`
	Passages  int            `json:"passages"` // in the index
	P50       float64        `json:"p50_ms"`
	Questions int            `json:"questions"` // fewer than all if it was given up
	Stopped   bool           `json:"stopped,omitempty"`
	Frontier  bool           `json:"frontier,omitempty"` // nothing tried is both better and quicker
}

// A Watch has a collection measured after each change of its documents.
type Watch struct {
	Set     string   `json:"set"`
	Require []string `json:"require,omitempty"`
	Webhook string   `json:"webhook,omitempty"` // that is told of a failure; from the operator's list
	Off     bool     `json:"off,omitempty"`
	// Alerts are what went wrong lately, the latest first.
	Alerts []Alert `json:"alerts,omitempty"`
}

// An Alert says what a measurement showed to be worse than it should be.
type Alert struct {
	At          time.Time `json:"at"`
	Measurement string    `json:"measurement"`
	Reasons     []string  `json:"reasons"`
}
