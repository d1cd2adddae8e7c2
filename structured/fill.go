package structured

import (
	"context"
	"slices"
	"strings"

	"jardinet/answer"
)

// A filler asks for values, one after the other.
type filler struct {
	Source
	fields map[string]Filling
}

// fill answers a schema at a place.
func (f *filler) fill(ctx context.Context, at, question string, s *schema) (any, error) {
	if s.of() != "object" {
		return f.value(ctx, at, wording(question, "", s), s)
	}
	out := map[string]any{}
	for _, name := range s.order {
		p := s.Properties[name]
		ask := wording(question, name, p)
		if p.of() == "object" {
			ask = strings.TrimSpace(question + " " + ask)
		}
		value, err := f.fill(ctx, at+"/"+escaped(name), ask, p)
		if err != nil {
			return nil, err
		}
		if value != nil || mayBeNull(p) || slices.Contains(s.Required, name) {
			out[name] = value
		}
	}
	return out, nil
}

func mayBeNull(s *schema) bool {
	return len(s.Type) == 0 || slices.Contains(s.Type, "null")
}

func escaped(name string) string {
	return strings.NewReplacer("~", "~0", "/", "~1").Replace(name)
}

// wording makes the question for a value: its description where that is one, or else what the
// whole is about with what the value is called.
func wording(about, name string, s *schema) string {
	said := s.Description
	if said == "" {
		said = s.Title
	}
	switch {
	case strings.HasSuffix(said, "?"):
		return said
	case name == "" && said == "":
		return about
	case said == "":
		said = strings.NewReplacer("_", " ", "-", " ").Replace(name)
	}
	if strings.HasSuffix(about, "?") && name == "" {
		return about
	}
	if about = strings.TrimRight(about, "?.: "); about == "" {
		return said + "?"
	}
	return about + ": " + said + "?"
}

// value asks for one value, or for a list of them.
func (f *filler) value(ctx context.Context, at, question string, s *schema) (any, error) {
	a, err := f.Ask(ctx, question)
	if err != nil {
		return nil, err
	}
	filling := Filling{Question: question, Citations: a.Citations}
	defer func() { f.fields[at] = filling }()
	if a.State == answer.NotFound {
		filling.Citations, filling.Reason = []answer.Citation{}, "the documents do not say"
		if s.of() != "array" {
			return nil, nil
		}
	}
	if s.of() == "array" && s.Items != nil {
		value, err := f.list(ctx, a, s.Items, &filling)
		if value == nil || err != nil {
			return nil, err
		}
		filling.Reason = ""
		return value, nil
	}
	value, reason := read(a, s)
	filling.Reason = reason
	return value, nil
}

// list reads a list: rows of a table for objects, and the items of an answer for all else.
func (f *filler) list(ctx context.Context, a *answer.Answer, item *schema, filling *Filling) (any, error) {
	if item.of() == "object" {
		rows, err := f.rows(ctx, a, item)
		if err == nil && rows == nil && filling.Reason == "" {
			filling.Reason = "no table near what answers has columns with these names"
		}
		if rows == nil {
			return nil, err
		}
		return rows, err
	}
	if a.State == answer.NotFound {
		return nil, nil
	}
	var out []any
	for _, words := range items(a) {
		if value, reason := readWords(words, words, item); reason == "" {
			out = append(out, value)
		} else {
			filling.Reason = reason
		}
	}
	if out == nil {
		return nil, nil
	}
	return out, nil
}

// items are the things that an answer lists.
func items(a *answer.Answer) []string {
	var out []string
	if a.List && len(a.Statements) > 1 {
		for _, s := range a.Statements {
			if s.Contrary == "" && !s.Unproven {
				out = append(out, unmarked(s.Text))
			}
		}
		return out
	}
	words := a.Short
	if words == "" && len(a.Statements) > 0 {
		words = a.Statements[0].Text
	}
	words = strings.NewReplacer(" and ", ", ", " or ", ", ", " und ", ", ", " oder ", ", ", " et ", ", ", " ou ", ", ", ";", ",", "\n", ",").Replace(words)
	for _, part := range strings.Split(words, ",") {
		if part = strings.Trim(part, " .:"); part != "" {
			out = append(out, part)
		}
	}
	return out
}

// unmarked is an item without its bullet or number.
func unmarked(s string) string {
	s = strings.TrimSpace(s)
	mark, rest, ok := strings.Cut(s, " ")
	if ok && (strings.Trim(mark, "•–-*◦▪") == "" || strings.Trim(mark, "0123456789.()") == "" || len(mark) <= 3 && strings.HasSuffix(mark, ")")) {
		return strings.TrimSpace(rest)
	}
	return s
}
