package answer

import (
	"context"
	"slices"
	"strings"
	"testing"

	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/index"
	"jardinet/layout"
	"jardinet/passage"
	"jardinet/pdf"
	"jardinet/rank"
	"jardinet/text"
	"jardinet/wording"
)

// A source is a document of the test: sections with lines, a line being a
// sentence, a list item ("1. …") or a table row (with " · ").
type source struct {
	name, title string
	language    text.Language
	sections    [][]string // heading first
}

var garden = []source{
	{"vault.pdf", "Seed Vault Manual", "en", [][]string{
		{"1.2 The rule of four hours", "Seed may stay out of the cold store for no longer than four hours in all.", "Each packet carries a card."},
		{"2.2 When the cold store alarm rings", "1. Do not open the door.", "2. Read the panel in the corridor.", "3. Change over to the other compressor.", "Then wait."},
		{"1.1 People", "The Vault Keeper, Dr Ilse Brandvold, is answerable for every accession."},
		{"2.3 Power", "The test of the generator is on 14 March 2026."},
	}},
	{"house.pdf", "Glasshouse Manual", "en", [][]string{
		{"2.2 Set points", "Palm House · Day °C: 22 to 27 · Night minimum °C: 17", "Dew House · Day °C: 15 to 19 · Night minimum °C: 12", "Orchid House · Day °C: 20 to 24 · Night minimum °C: 16"},
		{"5.1 Chemicals", "No chemical is applied in a house that is open to visitors.", "Dogs are allowed on the lawn."},
	}},
	{"policy-2021.pdf", "Quarantine Policy, 2021 edition", "en", [][]string{{"4. Length of quarantine", "Woody plants with roots · Quarantine: 90 days"}}},
	{"policy-2024.pdf", "Quarantine Policy, 2024 edition", "en", [][]string{{"5. Length of quarantine", "Woody plants with roots · Quarantine: 180 days"}}},
	{"visiteurs.pdf", "Informations", "fr", [][]string{{"Horaires", "Les serres ouvrent à 10 heures.", "Les chiens ne sont pas admis dans les serres."}}},
}

func asker(t *testing.T) *Asker {
	t.Helper()
	return askerOf(t, garden...)
}

func askerOf(t *testing.T, sources ...source) *Asker {
	t.Helper()
	x, err := index.Open(t.TempDir(), index.Space{Model: embed.Name(), Dimensions: embed.Dimensions})
	if err != nil {
		t.Fatal(err)
	}
	documents := map[string]Document{}
	for _, s := range sources {
		documents[s.name] = Document{Name: s.name, Title: s.title, Labels: []string{"i", "1", "2", "3"}}
		entry := index.Document{Key: s.name}
		for i, section := range s.sections {
			p := made(i, section, s.language)
			stored, err := passage.Encode(p)
			if err != nil {
				t.Fatal(err)
			}
			entry.Passages = append(entry.Passages, index.Passage{
				Heading: s.title + " " + section[0], Body: p.Text, Language: s.language, Stored: stored,
				Vector: vectorOf(t, encoder.Passage, s.title+" › "+section[0]+": "+p.Text, s.language),
			})
		}
		if err := x.Apply([]index.Document{entry}, nil); err != nil {
			t.Fatal(err)
		}
	}
	return &Asker{
		Index: x, Rank: rank.New(), Wording: wording.New(), Document: func(key string) (Document, bool) { d, ok := documents[key]; return d, ok },
		Embed: func(_ context.Context, question string, language text.Language) ([]float32, error) {
			return vectorOf(t, encoder.Query, question, language), nil
		},
	}
}

func vectorOf(t *testing.T, role encoder.Role, body string, language text.Language) []float32 {
	t.Helper()
	vectors, err := embed.Texts(context.Background(), role, embed.Text{Body: body, Language: language})
	if err != nil {
		t.Fatal(err)
	}
	return vectors[0]
}

// made makes the passage of a section, on the page after its number.
func made(number int, section []string, language text.Language) *passage.Passage {
	p := &passage.Passage{Ordinal: number, Section: section[:1], Language: language}
	for _, line := range section[1:] {
		if p.Text != "" {
			p.Text += "\n"
		}
		s := passage.Sentence{Start: len(p.Text), First: true, Marks: []passage.Mark{{Page: number + 1, Box: pdf.Rect{X0: 50, Y0: 100, X1: 300, Y1: 112}}}}
		switch {
		case strings.Contains(line, " · "):
			s.Kind = layout.Table
		case line[1] == '.':
			s.Kind = layout.ListItem
		}
		p.Text += line
		s.End = len(p.Text)
		p.Sentences = append(p.Sentences, s)
	}
	return p
}

func ask(t *testing.T, a *Asker, question string, after ...string) *Answer {
	t.Helper()
	out, err := a.Ask(t.Context(), question, after)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func TestShortAnswers(t *testing.T) {
	a := asker(t)
	tests := []struct{ question, short, document string }{
		{"How long may seed stay out of the cold store?", "Four hours", "vault.pdf"},
		{"Who is answerable for every accession?", "Dr Ilse Brandvold", "vault.pdf"},
		{"When is the test of the generator?", "14 March 2026", "vault.pdf"},
		{"What is the night minimum in the Dew House?", "12 °C", "house.pdf"},
		{"Is a chemical applied in a house open to visitors?", "No", "house.pdf"},
		{"Are dogs allowed on the lawn?", "Yes", "house.pdf"},
		{"Les chiens sont-ils admis dans les serres ?", "", "visiteurs.pdf"},
	}
	for _, test := range tests {
		got := ask(t, a, test.question)
		if got.State == NotFound || got.Short != test.short || got.Citations[0].Document != test.document {
			t.Errorf("%s: %s, short %q, from %+v", test.question, got.State, got.Short, got.Citations)
		}
	}
}

func TestEveryStatementIsCitedWordForWord(t *testing.T) {
	a := asker(t)
	for _, question := range []string{"How long may seed stay out?", "What do I do when the cold store alarm rings?", "Woody plants quarantine", "À quelle heure ouvrent les serres ?"} {
		got := ask(t, a, question)
		if len(got.Statements) == 0 {
			t.Errorf("%s: no statement, state %s", question, got.State)
		}
		for _, s := range got.Statements {
			if len(s.Citations) == 0 {
				t.Errorf("%s: “%s” has no citation", question, s.Text)
			}
			for _, n := range s.Citations {
				c := got.Citations[n-1]
				if c.Number != n || c.Quote != s.Text || c.Page < 1 || len(c.Boxes) == 0 || c.Boxes[0].Page != c.Page || c.Label == "" {
					t.Errorf("%s: “%s” is cited as %+v", question, s.Text, c)
				}
			}
		}
	}
}

func TestProcedureIsWhole(t *testing.T) {
	got := ask(t, asker(t), "What do I do when the cold store alarm rings?")
	var steps []string
	for _, s := range got.Statements {
		steps = append(steps, s.Text)
	}
	want := []string{"1. Do not open the door.", "2. Read the panel in the corridor.", "3. Change over to the other compressor."}
	if !slices.Equal(steps, want) {
		t.Errorf("steps are %q", steps)
	}
}

func TestRefusal(t *testing.T) {
	a := asker(t)
	for _, question := range []string{"How many tigers live in the garden?", "What is the salary of the Director?", "xyzzy"} {
		got := ask(t, a, question)
		if got.State != NotFound || len(got.Statements) != 0 || len(got.Citations) != 0 || got.Short != "" || got.Text == "" {
			t.Errorf("%s: %s, %q, %+v", question, got.State, got.Text, got.Statements)
		}
	}
	if got := ask(t, a, "How many tigers live in the Orchid House?"); len(got.Nearest) == 0 || got.Nearest[0].Page == 0 || !slices.Contains(got.Missing, "tigers") {
		t.Errorf("the nearest passages are %+v, missing %v", got.Nearest, got.Missing)
	}
	if got := ask(t, a, "Combien de tigres vivent dans le zoo de la ville ?"); !strings.Contains(got.Text, "documents") || !strings.HasPrefix(got.Text, "Les") {
		t.Errorf("the French refusal says %q", got.Text)
	}
}

func TestFollowUpKeepsTheSubject(t *testing.T) {
	a := asker(t)
	got := ask(t, a, "And in the Orchid House?", "What is the night minimum in the Dew House?")
	if got.Short != "16 °C" || got.Standalone == got.Question || strings.Contains(got.Standalone, "dew") {
		t.Errorf("short answer %q to %q", got.Short, got.Standalone)
	}
	third := ask(t, a, "And in the Palm House?", "What is the night minimum in the Dew House?", "And in the Orchid House?")
	if third.Short != "17 °C" {
		t.Errorf("the third answer is %q to %q", third.Short, third.Standalone)
	}
	fresh := ask(t, a, "How long may seed stay out of the cold store?", "What is the night minimum in the Dew House?")
	if fresh.Standalone != fresh.Question || fresh.Short != "Four hours" {
		t.Errorf("a new subject is understood as %q, answered %q", fresh.Standalone, fresh.Short)
	}
}

func TestEditions(t *testing.T) {
	a := asker(t)
	if got := ask(t, a, "How long is the quarantine for woody plants with roots?"); got.Short != "180 days" {
		t.Errorf("today it is %q", got.Short)
	}
	if got := ask(t, a, "How long was the quarantine for woody plants with roots in the 2021 edition?"); got.Short != "90 days" {
		t.Errorf("in 2021 it was %q", got.Short)
	}
	now := ask(t, a, "How long is the quarantine for woody plants with roots?")
	if last := now.Statements[len(now.Statements)-1]; last.Contrary != "Quarantine Policy, 2021 edition" || !strings.Contains(last.Text, "90 days") {
		t.Errorf("what the older edition says is shown as %+v", last)
	}
	both := ask(t, a, "How does the quarantine of woody plants with roots differ between 2021 and 2024?")
	if !strings.Contains(both.Text, "90 days") || !strings.Contains(both.Text, "180 days") {
		t.Errorf("compared: %q", both.Text)
	}
}

func TestWants(t *testing.T) {
	tests := map[string]want{
		"How many panes were broken?": wantQuantity, "Who signs?": wantPerson, "When does it open?": wantDate,
		"Where is it?": wantPlace, "Why did it stop?": wantReason, "How do I enter the store?": wantSteps,
		"May I smoke here?": wantYesNo, "Which stores are there?": wantList, "Describe the vault": wantSentence,
		"What is the speed limit?": wantQuantity, "What must be done after a derailment?": wantSteps,
	}
	for question, want := range tests {
		if got := wantOf(foldedQuestion(question)); got != want {
			t.Errorf("%s wants %d, expected %d", question, got, want)
		}
	}
}

func TestMeasuresTheRightDimension(t *testing.T) {
	tests := []struct {
		question, sentence string
		want               bool
	}{
		{"How long does a round take?", "A round takes about 70 minutes.", true},
		{"How long does a round take?", "The round starts at 07:00.", false},
		{"How heavy is Bryony?", "Bryony · Built: 1967 · Weight t: 7.5", true},
		{"How heavy is Bryony?", "Bryony was built in 1967.", false},
		{"How many visitors came?", "We counted 412,600 visitors.", true},
		{"How many visitors came?", "The report is of 2025.", false},
		{"How many visitors came?", "3. Count them at the gate.", false},
		{"What does a ticket cost?", "It costs £3.50.", true},
		{"How hot does it get?", "at most 36 °C", true},
		{"How long is the line?", "Plain line · Limit km/h: 15", false},
	}
	for _, test := range tests {
		units, _ := dimensionOf(foldedQuestion(test.question))
		if got := measures(test.sentence, units); got != test.want {
			t.Errorf("%q measures what %q asks: %v", test.sentence, test.question, got)
		}
	}
}
