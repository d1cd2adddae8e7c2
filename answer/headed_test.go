package answer

import (
	"strings"
	"testing"
)

// calendar is a manual whose headings say when and of what.
var calendar = source{"manual.pdf", "Report 2025", "en", [][]string{
	{"17.9 September", "Take in the citrus from the terrace.", "The screens are tried."},
	{"9 Arid House", "The first-aid box in this house holds tweezers."},
	{"Form V4: Incident report", "Fill in this form for every lost child."},
	{"2 Stores", "C1 · Place: Behind the shed · Holds: Pesticides · Keeper: senior grower", "C2 · Place: Yard · Holds: Fertilisers · Keeper: yard foreman"},
	{"3 Products", "1 · Product: Soft soap · Against: aphids", "2 · Product: Sulphur · Against: mildew", "3 · Product: Bicarbonate · Against: mildew"},
	{"4 Results", "The budget for 2026 foresees an income of £8 million.", "We had an income of £7 million."},
	{"8. When a pest is found", "3. Tell the Head of Plant Health within 30 minutes.", "5. The Head of Plant Health reports it to the national service within four hours."},
	{"6 Engines", "Tansy, the battery locomotive, drew most of all trains.", "The trains are drawn by steam on Sundays."},
}}

func TestAnswersFromHeadings(t *testing.T) {
	a := askerOf(t, calendar)
	a.Style.Certain = 0.01 // so small a collection is sure of nothing
	for _, test := range []struct{ question, short string }{
		{"In which month is the citrus taken in?", "September"},
		{"Where are the tweezers?", "Arid House"},
		{"Which form do I fill in for a lost child?", "Form V4"},
		{"Who keeps store C2?", "Yard foreman"},
		{"What was the income in 2025?", "£7 million"},
		{"How soon is a pest told to the Head of Plant Health?", "30 minutes"},
		{"Which locomotive drew the trains?", "Tansy"},
	} {
		if got := ask(t, a, test.question); got.Short != test.short {
			t.Errorf("%s: %q, want %q; %s", test.question, got.Short, test.short, got.Text)
		}
	}
}

// TestAllRowsThatAnswer lists both products that are used against mildew, and no third.
func TestAllRowsThatAnswer(t *testing.T) {
	a := askerOf(t, calendar)
	a.Style.Certain = 0.01
	got := ask(t, a, "Which products are used against mildew?")
	if len(got.Statements) != 2 || !strings.Contains(got.Text, "Sulphur") || !strings.Contains(got.Text, "Bicarbonate") {
		t.Errorf("it says %q", got.Text)
	}
}

// TestWhatIsOnlyNamed holds a follow-up that names something to that name.
func TestWhatIsOnlyNamed(t *testing.T) {
	for folded, want := range map[string]bool{
		"and for volunteers": true, "what about dogs": true, "and the annual card": true,
		"and in winter": false, "and in 2021": false, "and how many failed": false, "and what is next": false, "how much seed may i have in all at once": false,
	} {
		if onlyNames(folded) != want {
			t.Errorf("%q only names something: %v", folded, !want)
		}
	}
}

// TestWhereTheDocumentsSpeakOfIt tells a refusal for want of a sure sentence from one for
// want of anything.
func TestWhereTheDocumentsSpeakOfIt(t *testing.T) {
	a := askerOf(t, calendar)
	a.Style.Certain = 1
	if got := ask(t, a, "Which tweezers are in the first-aid box?"); !strings.Contains(got.Text, "speak of it") {
		t.Errorf("it says %q", got.Text)
	}
	if got := ask(t, a, "Who painted the rhinoceros?"); strings.Contains(got.Text, "speak of it") {
		t.Errorf("it says %q", got.Text)
	}
}
