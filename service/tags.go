package service

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Limits of tags.
const (
	longestTag = 40 // characters
	mostTags   = 20 // of a document
)

// cleanTags puts tags into the form in which they are kept: lower case, single
// spaces, sorted, each once.
func cleanTags(tags []string) ([]string, error) {
	out := []string{}
	for _, tag := range tags {
		tag = strings.Join(strings.Fields(strings.ToLower(tag)), " ")
		switch {
		case tag == "":
			return nil, fmt.Errorf("a tag is empty: %w", ErrInvalid)
		case utf8.RuneCountInString(tag) > longestTag:
			return nil, fmt.Errorf("tag %q is longer than %d characters: %w", tag, longestTag, ErrInvalid)
		case strings.ContainsFunc(tag, func(r rune) bool { return r == ',' || !unicode.IsPrint(r) }):
			return nil, fmt.Errorf("tag %q: leave out commas and what cannot be printed: %w", tag, ErrInvalid)
		}
		out = append(out, tag)
	}
	slices.Sort(out)
	if out = slices.Compact(out); len(out) > mostTags {
		return nil, fmt.Errorf("%d tags: a document has %d at most: %w", len(out), mostTags, ErrInvalid)
	}
	return out, nil
}

// SetTags gives a document these tags and no others. They belong to its name, so
// that a new version has them too.
func (s *Service) SetTags(ctx context.Context, collection, name string, tags []string) (*Document, error) {
	clean, err := cleanTags(tags)
	if err != nil {
		return nil, err
	}
	c, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	if err := s.store.SetTags(ctx, c.ID, d.Name, clean); err != nil {
		return nil, err
	}
	s.tell(ctx, d.ID)
	return s.Document(ctx, collection, d.ID)
}

// tagged tells whether a document has all of some tags.
func tagged(has, wanted []string) bool {
	return !slices.ContainsFunc(wanted, func(tag string) bool { return !slices.Contains(has, tag) })
}

// Matches tells whether a document has all of some tags and fields.
func Matches(d *Document, tags []string, where map[string]string) bool {
	return tagged(d.Tags, tags) && haveAll(d.Fields, where)
}
