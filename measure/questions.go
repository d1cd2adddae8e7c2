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
	return set, check(set)
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
		return fmt.Errorf("unknown column; use id, question, answer, accept, evidence, answerable, tags, after")
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

// check finds what a person would want to know before a long run.
func check(set *Set) error {
	seen := map[string]bool{}
	for i, q := range set.Questions {
		at := fmt.Sprintf("question set %s: question %d", set.Name, i+1)
		switch {
		case q.ID == "":
			return fmt.Errorf("%s has no id", at)
		case strings.TrimSpace(q.Question) == "":
			return fmt.Errorf("%s (%s) has no text", at, q.ID)
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
