package service

import (
	"errors"
	"slices"
	"strings"
	"testing"
)

func TestTags(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	for _, name := range []string{"staff-handbook.pdf", "railway-rule-book.pdf", "quarantine-policy-2021.pdf"} {
		add(t, s, "garden", name)
	}
	settle(t, s, "garden")
	set := func(name string, tags ...string) []string {
		t.Helper()
		d, err := s.SetTags(t.Context(), "garden", name, tags)
		if err != nil {
			t.Fatal(err)
		}
		return d.Tags
	}
	if got := set("staff-handbook.pdf", "Staff", "  2026 ", "staff"); !slices.Equal(got, []string{"2026", "staff"}) {
		t.Errorf("the handbook's tags are %q", got)
	}
	set("railway-rule-book.pdf", "staff", "railway")
	cited := func(scope Scope) []string {
		t.Helper()
		found, err := s.Find(t.Context(), "garden", "How old must somebody be, and what about leave and quarantine?", 50, scope)
		if err != nil {
			t.Fatal(err)
		}
		var out []string
		for _, f := range found {
			out = append(out, f.Document)
		}
		slices.Sort(out)
		return slices.Compact(out)
	}
	for _, test := range []struct {
		scope Scope
		want  string
	}{
		{Scope{}, "quarantine-policy-2021.pdf railway-rule-book.pdf staff-handbook.pdf"},
		{Scope{Tags: []string{"STAFF"}}, "railway-rule-book.pdf staff-handbook.pdf"},
		{Scope{Tags: []string{"staff", "railway"}}, "railway-rule-book.pdf"},
		{Scope{Tags: []string{"staff"}, Documents: []string{"staff-handbook.pdf"}}, "staff-handbook.pdf"},
		{Scope{Tags: []string{"nothing has this"}}, ""},
	} {
		if got := strings.Join(cited(test.scope), " "); got != test.want {
			t.Errorf("%+v: looked in %s, not %s", test.scope, got, test.want)
		}
	}
	for _, bad := range [][]string{{""}, {"a,b"}, {strings.Repeat("x", 41)}, {"two\x00words"}, strings.Fields("a b c d e f g h i j k l m n o p q r s t u")} {
		if _, err := s.SetTags(t.Context(), "garden", "staff-handbook.pdf", bad); !errors.Is(err, ErrInvalid) {
			t.Errorf("tags %q: %v", bad, err)
		}
	}
	if _, err := s.SetTags(t.Context(), "garden", "none.pdf", nil); !errors.Is(err, ErrNotFound) {
		t.Errorf("tags of what is not there: %v", err)
	}
}

// A new version of a document has its tags; what comes after it was removed has not.
func TestTagsOutliveVersions(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	as := adder(t, s)
	tags := func() []string {
		t.Helper()
		d, err := s.Document(t.Context(), "garden", "policy.pdf")
		if err != nil {
			t.Fatal(err)
		}
		return d.Tags
	}
	as("policy.pdf", "quarantine-policy-2021.pdf")
	if _, err := s.SetTags(t.Context(), "garden", "policy.pdf", []string{"plants"}); err != nil {
		t.Fatal(err)
	}
	as("policy.pdf", "quarantine-policy-2024.pdf")
	if got := tags(); !slices.Equal(got, []string{"plants"}) {
		t.Errorf("the new version's tags are %q", got)
	}
	if _, err := s.Remove(t.Context(), "garden", "policy.pdf", false); err != nil {
		t.Fatal(err)
	}
	if err := s.Purge(t.Context(), "garden", "policy.pdf"); err != nil {
		t.Fatal(err)
	}
	as("policy.pdf", "quarantine-policy-2021.pdf")
	if got := tags(); len(got) != 0 {
		t.Errorf("after all was removed its tags are %q", got)
	}
}
