package measure

import (
	"bytes"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
)

// A Question is one line of a question set.
type Question struct {
	ID         string     `json:"id"`
	Question   string     `json:"question"`
	Answer     string     `json:"answer,omitempty"`
	Accept     []string   `json:"accept,omitempty"`
	Evidence   []Evidence `json:"evidence,omitempty"`
	Answerable *bool      `json:"answerable,omitempty"` // true if absent
	Tags       []string   `json:"tags,omitempty"`
	After      []string   `json:"after,omitempty"`
	Split      string     `json:"split,omitempty"`   // part of the set that it belongs to, such as dev or test
	Draft      bool       `json:"draft,omitempty"`   // proposed by the program, and accepted by nobody yet
	Comment    string     `json:"comment,omitempty"` // what a person said about it
}

// CanBeAnswered tells whether the documents hold the answer.
func (q *Question) CanBeAnswered() bool { return q.Answerable == nil || *q.Answerable }

// Evidence is a page that proves the answer or, with All, several that do so
// only together.
type Evidence struct {
	Document string     `json:"document,omitempty"`
	Page     int        `json:"page,omitempty"`
	Quote    string     `json:"quote,omitempty"` // the words that prove it, as they stand on the page
	All      []Evidence `json:"all,omitempty"`
}

// Places returns every page that the question's evidence names.
func (q *Question) Places() []Evidence {
	var out []Evidence
	for _, e := range q.Evidence {
		out = append(out, e.pages()...)
	}
	return out
}

// pages returns the pages that the evidence needs.
func (e Evidence) pages() []Evidence {
	if len(e.All) > 0 {
		return e.All
	}
	return []Evidence{e}
}

// A Set is a question set.
type Set struct {
	Name      string
	Version   int    // of a kept one
	Part      string // of it
	SHA256    string
	Questions []Question
}

// ReadSet reads a question set, JSON Lines or, if the name ends in .csv, CSV.
func ReadSet(name string, data []byte) (*Set, error) {
	sum := sha256.Sum256(data)
	set := &Set{Name: name, SHA256: hex.EncodeToString(sum[:])}
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	var err error
	if strings.HasSuffix(strings.ToLower(name), ".csv") {
		set.Questions, err = readCSV(data)
	} else {
		set.Questions, err = readJSONL(data)
	}
	if err != nil {
		return nil, fmt.Errorf("question set %s: %w", name, err)
	}
	if len(set.Questions) == 0 {
		return nil, fmt.Errorf("question set %s: it holds no questions; write one JSON object a line", name)
	}
	return set, set.Check()
}

// NewSet makes a set of questions, named by what it is kept as.
func NewSet(name string, questions []Question) (*Set, error) {
	set := &Set{Name: name, Questions: questions}
	data, err := set.JSONL()
	if err != nil {
		return nil, err
	}
	sum := sha256.Sum256(data)
	set.SHA256 = hex.EncodeToString(sum[:])
	return set, set.Check()
}

// JSONL writes the set as JSON Lines.
func (set *Set) JSONL() ([]byte, error) {
	var out bytes.Buffer
	e := json.NewEncoder(&out)
	e.SetEscapeHTML(false)
	for _, q := range set.Questions {
		if err := e.Encode(q); err != nil {
			return nil, fmt.Errorf("question set %s: %w", set.Name, err)
		}
	}
	return out.Bytes(), nil
}

func readJSONL(data []byte) ([]Question, error) {
	var out []Question
	for i, line := range bytes.Split(data, []byte("\n")) {
		line = bytes.TrimSpace(line)
		if len(line) == 0 {
			continue
		}
		var q Question
		d := json.NewDecoder(bytes.NewReader(line))
		d.DisallowUnknownFields()
		if err := d.Decode(&q); err != nil {
			return nil, fmt.Errorf("line %d: %w", i+1, err)
		}
		out = append(out, q)
	}
	return out, nil
}

// readCSV reads a table whose columns have the names of the JSON fields. Lists
// are separated by semicolons; evidence is written "file.pdf:12", and entries
// that are needed together are joined by "+".
func readCSV(data []byte) ([]Question, error) {
	r := csv.NewReader(bytes.NewReader(data))
	r.TrimLeadingSpace = true
	header, err := r.Read()
	if err != nil {
		return nil, fmt.Errorf("header: %w", err)
	}
	var out []Question
	for {
		record, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return nil, err
		}
		line, _ := r.FieldPos(0)
		var q Question
		for i, field := range record {
			if err := q.set(strings.TrimSpace(header[i]), strings.TrimSpace(field)); err != nil {
				return nil, fmt.Errorf("line %d, column %s: %w", line, header[i], err)
			}
		}
		out = append(out, q)
	}
}

func (q *Question) set(column, value string) error {
	if value == "" {
		return nil
	}
	switch column {
	case "id":
		q.ID = value
	case "question":
		q.Question = value
	case "answer":
		q.Answer = value
	case "accept":
		q.Accept = list(value)
	case "tags":
		q.Tags = list(value)
	case "after":
		q.After = list(value)
	case "split":
		q.Split = value
	case "comment":
		q.Comment = value
	case "draft":
		b, err := strconv.ParseBool(value)
		q.Draft = b
		return err
	case "answerable":
		b, err := strconv.ParseBool(value)
		q.Answerable = &b
		return err
	case "evidence":
		for _, entry := range list(value) {
			e, err := parseEvidence(entry)
			if err != nil {
				return err
			}
			q.Evidence = append(q.Evidence, e)
		}
	default:
		return fmt.Errorf("unknown column; use %s", strings.Join(columns, ", "))
	}
	return nil
}

func list(s string) []string {
	var out []string
	for _, part := range strings.Split(s, ";") {
		if part = strings.TrimSpace(part); part != "" {
			out = append(out, part)
		}
	}
	return out
}

func parseEvidence(s string) (Evidence, error) {
	var parts []Evidence
	for _, one := range strings.Split(s, "+") {
		document, page, ok := strings.Cut(strings.TrimSpace(one), ".pdf:")
		n, err := strconv.Atoi(page)
		if !ok || err != nil {
			return Evidence{}, fmt.Errorf("evidence %q: write it as file.pdf:12", one)
		}
		parts = append(parts, Evidence{Document: document + ".pdf", Page: n})
	}
	if len(parts) == 1 {
		return parts[0], nil
	}
	return Evidence{All: parts}, nil
}

// columns are those of a set as CSV.
var columns = []string{"id", "question", "answer", "accept", "evidence", "answerable", "tags", "after", "split", "draft", "comment"}

// WriteCSV writes the set as a table, as ReadSet reads it. Quotations of the evidence have no
// place in it.
func (set *Set) WriteCSV(w io.Writer) error {
	out := csv.NewWriter(w)
	rows := [][]string{columns}
	for _, q := range set.Questions {
		var evidence []string
		for _, e := range q.Evidence {
			var pages []string
			for _, p := range e.pages() {
				pages = append(pages, fmt.Sprintf("%s:%d", p.Document, p.Page))
			}
			evidence = append(evidence, strings.Join(pages, "+"))
		}
		row := []string{q.ID, q.Question, q.Answer, strings.Join(q.Accept, "; "), strings.Join(evidence, "; "), "", strings.Join(q.Tags, "; "), strings.Join(q.After, "; "), q.Split, "", q.Comment}
		if !q.CanBeAnswered() {
			row[5] = "false"
		}
		if q.Draft {
			row[9] = "true"
		}
		rows = append(rows, row)
	}
	return out.WriteAll(rows)
}

// Bounds of a question, in bytes.
const (
	mostID      = 100
	mostLetters = 2000
)

// Check finds what a person would want to know before a long run.
func (set *Set) Check() error {
	seen := map[string]bool{}
	for i, q := range set.Questions {
		at := fmt.Sprintf("question set %s: question %d", set.Name, i+1)
		switch {
		case q.ID == "":
			return fmt.Errorf("%s has no id", at)
		case strings.TrimSpace(q.Question) == "":
			return fmt.Errorf("%s (%s) has no text", at, q.ID)
		case len(q.ID) > mostID || len(q.Question) > mostLetters:
			return fmt.Errorf("%s: an id has %d bytes at most, a question %d", at, mostID, mostLetters)
		case seen[q.ID]:
			return fmt.Errorf("%s: the id %s stands twice", at, q.ID)
		}
		seen[q.ID] = true
		for _, e := range q.Evidence {
			for _, p := range e.pages() {
				if p.Document == "" || p.Page < 1 {
					return fmt.Errorf("%s (%s): evidence needs a document and a page from 1", at, q.ID)
				}
			}
		}
	}
	return nil
}
