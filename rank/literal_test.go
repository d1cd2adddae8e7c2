package rank

import (
	"slices"
	"testing"
)

func TestLiterals(t *testing.T) {
	for question, want := range map[string][]string{
		"What does tabdump -H suppress?":                {"-H"},
		"Which letter in kadm5.acl allows the change?":  {"kadm5.acl"},
		"What does column(-2) give in gnuplot?":         {"column(-2)"},
		"What does M-d do?":                             {"M-d"},
		"How is day-to-day work and/or travel planned?": nil,
		"Who drives engine QX-7?":                       {"QX-7"},
		"Does pdfTeX read this?":                        {"pdfTeX"},
		"When does the Palm House open at 10:30?":       nil,
		"And a guard? (driver)":                         nil, // brackets of the sentence
		"And by day? (orchid house minimum)":            nil,
		"Is it set (see kadm5.acl)?":                    {"kadm5.acl"},
	} {
		if got := Literals(question); !slices.Equal(got, want) {
			t.Errorf("%q names %q, want %q", question, got, want)
		}
	}
}

func TestHolds(t *testing.T) {
	for _, test := range []struct {
		text, literal string
		want          bool
	}{
		{"with -H or --help", "-H", true}, {"with -Help", "-H", false}, {"kadm5.acl", "kadm5.acl", true},
		{"mykadm5.acl, kadm5.acl.", "kadm5.acl", true}, {"column(-1)", "column(-2)", false}, {"", "x-1", false},
	} {
		if got := Holds(test.text, test.literal); got != test.want {
			t.Errorf("%q holds %q: %t", test.text, test.literal, got)
		}
	}
}
