package service

import (
	"context"
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Limits of fields.
const (
	longestField = 40  // characters of a name
	longestValue = 500 // characters
	mostFields   = 40  // of one call
)

// cleanFields puts fields into the form in which they are kept: names in lower case, without
// spaces around.
func cleanFields(fields map[string]string) (map[string]string, error) {
	if len(fields) > mostFields {
		return nil, fmt.Errorf("%d fields: a document is given %d at a time: %w", len(fields), mostFields, ErrInvalid)
	}
	out := map[string]string{}
	for name, value := range fields {
		name, value = strings.ToLower(strings.Join(strings.Fields(name), " ")), strings.Join(strings.Fields(value), " ")
		switch {
		case name == "" || utf8.RuneCountInString(name) > longestField || strings.ContainsFunc(name, func(r rune) bool { return r == '=' || !unicode.IsPrint(r) }):
			return nil, fmt.Errorf("field %q: a name has 1 to %d characters, and no \"=\": %w", name, longestField, ErrInvalid)
		case utf8.RuneCountInString(value) > longestValue:
			return nil, fmt.Errorf("field %q: its value is longer than %d characters: %w", name, longestValue, ErrInvalid)
		}
		out[name] = value
	}
	return out, nil
}

// SetFields gives a document some fields beside those that it has; an empty value takes one away.
// They belong to its name, so that a new version has them too.
func (s *Service) SetFields(ctx context.Context, collection, name string, fields map[string]string) (*Document, error) {
	clean, err := cleanFields(fields)
	if err != nil {
		return nil, err
	}
	c, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	if err := s.store.SetFields(ctx, c.ID, d.Name, clean); err != nil {
		return nil, err
	}
	s.tell(ctx, d.ID)
	return s.Document(ctx, collection, d.ID)
}

// haveAll tells whether fields have the values that are wanted, in upper or lower case.
func haveAll(fields, wanted map[string]string) bool {
	for name, value := range wanted {
		if !strings.EqualFold(fields[strings.ToLower(strings.TrimSpace(name))], strings.TrimSpace(value)) {
			return false
		}
	}
	return true
}
