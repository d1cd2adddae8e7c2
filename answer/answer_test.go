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

func answerer(t *testing.T) *Answerer {
	t.Helper()
	return answererOf(t, garden...)
}

func answererOf(t *testing.T, sources ...source) *Answerer {
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
	return &Answerer{
		Index: x, Rank: rank.New(), Document: func(key string) (Document, bool) { d, ok := documents[key]; return d, ok },
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

// ask asks and gives whatever is found, however unsure.
func ask(t *testing.T, a *Answerer, question string, after ...string) *Answer {
	t.Helper()
	a.Style.Certain = 1e-9
	out, err := a.Ask(t.Context(), question, after)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// first is the statement that an answer begins with.
func first(out *Answer) string {
	if len(out.Statements) == 0 {
		return ""
	}
	return out.Statements[0].Text
}

func TestAnswersStandWhereTheyAreCited(t *testing.T) {
	a := answerer(t)
	for question, want := range map[string]string{
		"How long may seed stay out of the cold store?":        "four hours",
		"Who is answerable for the seeds?":                     "Ilse Brandvold",
		"When is the generator tested?":                        "14 March 2026",
		"How cold may it be in the Dew House at night?":        "Dew House",
		"May chemicals be used while visitors are in a house?": "No chemical is applied",
	} {
		out := ask(t, a, question)
		if !strings.Contains(out.Text, want) {
			t.Errorf("%s: %q lacks %q", question, out.Text, want)
		}
		for _, c := range out.Citations {
			if c.Page == 0 || len(c.Boxes) == 0 || !strings.Contains(out.Text, c.Quote) {
				t.Errorf("%s: citation %+v", question, c)
			}
		}
		if len(out.Passages) == 0 || out.Timing.Total == 0 {
			t.Errorf("%s: %d passages read in %v ms", question, len(out.Passages), out.Timing.Total)
		}
	}
}

func TestNothingIsInvented(t *testing.T) {
	a := answerer(t)
	a.Style.Certain = 1 // nothing is that sure
	out, err := a.Ask(t.Context(), "How much does a seed packet weigh?", nil)
	if err != nil {
		t.Fatal(err)
	}
	if out.State != NotFound || len(out.Statements) > 0 || out.Text != "The documents do not say." && !out.Maybe {
		t.Errorf("the answer is %+v", out)
	}
	if len(out.Nearest) == 0 || !slices.ContainsFunc(out.Nearest[0].Sentences, func(l Line) bool { return l.Closest }) {
		t.Errorf("nearest are %+v", out.Nearest)
	}
	if !slices.Contains(out.Missing, "weigh") {
		t.Errorf("missing are %q", out.Missing)
	}
}

func TestEmptyCollection(t *testing.T) {
	out, err := answererOf(t).Ask(t.Context(), "Where do the tigers live?", nil)
	if err != nil || out.State != NotFound || out.Text == "" {
		t.Errorf("an empty collection answers %+v, error %v", out, err)
	}
}

func TestFollowUpIsReadBothWays(t *testing.T) {
	a := answerer(t)
	out := ask(t, a, "And in the Palm House?", "How cold may it be in the Dew House at night?")
	if !strings.Contains(first(out), "Palm House") {
		t.Errorf("the follow-up is answered by %q", first(out))
	}
	out = ask(t, a, "Who keeps the vault's keys?", "How long may seed stay out of the cold store?")
	if strings.Contains(first(out), "four hours") {
		t.Errorf("a question by itself is answered by what answers the one before: %q", first(out))
	}
	out = ask(t, a, "Who is answerable for every accession?", "How cold may it be in the Dew House at night?")
	if !strings.Contains(out.Text, "Brandvold") {
		t.Errorf("a question by itself is answered by %q", out.Text)
	}
}

func TestNewerEditionCounts(t *testing.T) {
	a := answerer(t)
	out := ask(t, a, "How long is the quarantine of woody plants with roots?")
	if !strings.Contains(first(out), "180 days") {
		t.Errorf("the newer edition says %q", first(out))
	}
	out = ask(t, a, "How long was the quarantine of woody plants with roots in 2021?")
	if !strings.Contains(first(out), "90 days") {
		t.Errorf("the edition that is named says %q", first(out))
	}
}

func TestSuperseded(t *testing.T) {
	candidates := []Candidate{
		{DocumentID: "a", Document: Document{Title: "Policy, 2021"}}, {DocumentID: "b", Document: Document{Title: "Policy, 2024"}},
		{DocumentID: "c", Document: Document{Title: "Report 2019"}}, {DocumentID: "d", Document: Document{Title: "Manual"}},
	}
	for question, want := range map[string]string{"How long?": "a", "How long in 2021?": "b", "Compare 2021 and 2024": ""} {
		var got []string
		for _, c := range candidates {
			if superseded(question, candidates)[c.DocumentID] {
				got = append(got, c.DocumentID)
			}
		}
		if strings.Join(got, "") != want {
			t.Errorf("%s: superseded are %q, want %q", question, got, want)
		}
	}
}

func TestFrenchIsReadByMeaning(t *testing.T) {
	out := ask(t, answerer(t), "Peut-on venir avec un chien ?")
	if !strings.Contains(out.Text, "chiens") || out.Signals.Foreign != 1 {
		t.Errorf("the answer is %q, signals %+v", out.Text, out.Signals)
	}
	a := answerer(t)
	a.Style.Certain = 1
	refused, err := a.Ask(t.Context(), "Peut-on venir avec un éléphant ?", nil)
	if err != nil || !strings.HasPrefix(refused.Text, "Les documents") {
		t.Errorf("the refusal is %q, error %v", refused.Text, err)
	}
}

func TestSeveralQuestions(t *testing.T) {
	a := answerer(t)
	out := ask(t, a, "How long may seed stay out of the cold store and who is answerable for it?")
	if len(out.Parts) != 2 || out.State != Answered {
		t.Fatalf("parts are %+v", out.Parts)
	}
	if !strings.Contains(out.Text, "four hours") || !strings.Contains(out.Text, "Brandvold") {
		t.Errorf("the answer is %q", out.Text)
	}
	for _, p := range out.Parts {
		for _, i := range p.Statements {
			for _, n := range out.Statements[i].Citations {
				if c := out.Citations[n-1]; c.Number != n || c.Quote != out.Statements[i].Text {
					t.Errorf("%s: citation %d is %+v", p.Question, n, c)
				}
			}
		}
	}
}

func TestParts(t *testing.T) {
	for question, want := range map[string][]string{
		"How old is it?": nil,
		"How deep is the vault and who keeps it?":           {"How deep is the vault?", "Who keeps it?"},
		"When and where is it held?":                        nil,
		"What is a quarantine? Who ends it?":                {"What is a quarantine?", "Who ends it?"},
		"What do bees and wasps eat?":                       nil,
		"I lost my card. What now?":                         nil,
		"Who signs the form, and when is it sent, and why?": {"Who signs the form?", "When is it sent, and why?"},
	} {
		if got := parts(question); !slices.Equal(got, want) {
			t.Errorf("%s is %q, want %q", question, got, want)
		}
	}
}

func TestHeadline(t *testing.T) {
	long := strings.Repeat("word ", 30)
	for _, test := range []struct {
		name string
		a    Answer
		want string
	}{
		{"the words that answer", Answer{Short: "Four hours", Statements: []Statement{{Text: "For four hours."}}}, "Four hours"},
		{"a yes with what says so", Answer{Short: "Yes", Verdict: "yes", Statements: []Statement{{Text: "Dogs may come."}}}, "Yes\nDogs may come."},
		{"no more than forty words", Answer{Statements: []Statement{{Text: long}, {Text: long}}}, "\n" + long},
		{"all of a list", Answer{List: true, Statements: []Statement{{Text: long}, {Text: long}}}, "\n" + long + "\n" + long},
		{"not what says otherwise", Answer{Statements: []Statement{{Text: "90 days."}, {Text: "180 days.", Contrary: "Policy"}}}, "\n90 days."},
	} {
		if got := test.a.Headline(); got != test.want {
			t.Errorf("%s: %q, want %q", test.name, got, test.want)
		}
	}
}

func TestListIsShownWhole(t *testing.T) {
	p := made(0, garden[0].sections[1], "en")
	if first, last := listAround(p, 1); first != 0 || last != 2 {
		t.Errorf("around a step stand %d to %d", first, last)
	}
	if first, last := listAround(p, 3); first != 3 || last != 3 {
		t.Errorf("around what follows a list stand %d to %d", first, last)
	}
	lead := made(0, []string{"Tools", "Take these along:", "1. A trowel.", "2. A bag."}, "en")
	if first, last := listAround(lead, 0); first != 0 || last != 2 {
		t.Errorf("around what leads to a list stand %d to %d", first, last)
	}
}

func TestRunKeepsToFortyWords(t *testing.T) {
	long := strings.Repeat("word ", 22) + "end."
	p := made(0, []string{"H", long, long, "Short one."}, "en")
	if first, last := run(p, []float64{0.4, 0.35, 0.25}, 0); first != 0 || last != 0 {
		t.Errorf("the run goes from %d to %d", first, last)
	}
	if first, last := run(p, []float64{0.1, 0.5, 0.4}, 1); first != 1 || last != 2 {
		t.Errorf("the run goes from %d to %d", first, last)
	}
}

func TestNumbersThatAreMissing(t *testing.T) {
	c := &Candidate{Document: Document{Title: "Timetable 2024"}, Passage: made(0, []string{"Trains", "Train 11 leaves at 14:05."}, "en")}
	for question, want := range map[string]float64{
		"When does train 11 leave?": 0, "When does train 13 leave?": 1, "When did train 11 leave in 2024?": 0, "When did train 11 leave in 2023?": 0.5, "When does it leave?": 0,
	} {
		if got := lacking(numbersIn(question), c); got != want {
			t.Errorf("%s: %v of its numbers are missing, want %v", question, got, want)
		}
	}
}

func TestSameBut(t *testing.T) {
	if !sameBut("The gate is shut at 6 pm.", "The gate is shut at 8 pm.") {
		t.Error("two times of one thing are two things")
	}
	if sameBut("The gate is shut at 6 pm.", "Bread is baked at 6 am.") {
		t.Error("two things are one")
	}
}

func TestFind(t *testing.T) {
	a := answerer(t)
	found, err := a.Find(t.Context(), `"cold store" -alarm`, 5)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range found.Candidates {
		if all := c.Passage.SectionPath() + c.Passage.Text; !strings.Contains(all, "cold store") || strings.Contains(all, "alarm") {
			t.Errorf("found %q", all)
		}
	}
	if len(found.Candidates) == 0 {
		t.Error("nothing is found")
	}
}

func TestTrace(t *testing.T) {
	a := answerer(t)
	a.Trace = true
	out := ask(t, a, "How long may sede stay out of the cold store?")
	if out.Trace == nil || len(out.Trace.Findings) == 0 || len(out.Trace.Candidates) == 0 || len(out.Trace.Signals) != len(SignalNames) {
		t.Fatalf("the trace is %+v", out.Trace)
	}
	if out.Trace.Findings[0].Text != out.Citations[0].Quote && len(out.Citations) == 1 {
		t.Errorf("the best finding is %q, cited is %q", out.Trace.Findings[0].Text, out.Citations[0].Quote)
	}
}

func TestLessonsAreFoundByMeaning(t *testing.T) {
	a := answerer(t)
	places, err := Locate(a.Index, "house.pdf", []Quotation{{Page: 2, Text: "Dogs are allowed on the lawn"}})
	if err != nil || len(places[0]) != 1 {
		t.Fatalf("places are %v, error %v", places, err)
	}
	if a.Lessons, err = a.Learn(t.Context(), []Lesson{{Question: "Where may my poodle run about?", At: places[0]}}, nil); err != nil {
		t.Fatal(err)
	}
	for question, taught := range map[string]bool{
		"Where may my poodle run about?": true, "where can my poodle run about": true, "When is the generator tested?": false,
	} {
		out, err := a.Ask(t.Context(), question, nil)
		if err != nil {
			t.Fatal(err)
		}
		if out.Taught != taught || taught && (out.State != Answered || !strings.Contains(first(out), "lawn")) {
			t.Errorf("%s: taught %t, %q", question, out.Taught, first(out))
		}
	}
	if left := a.Lessons.Without(func(Lesson) bool { return true }); len(left.all) != 0 {
		t.Errorf("%d lessons are left", len(left.all))
	}
	if gone, err := Locate(a.Index, "house.pdf", []Quotation{{Page: 2, Text: "Cats are allowed in the café"}}); err != nil || len(gone[0]) != 0 {
		t.Errorf("what does not stand there stands at %v, error %v", gone, err)
	}
}

func TestLessonBringsItsPassage(t *testing.T) {
	a := answerer(t)
	places, err := Locate(a.Index, "visiteurs.pdf", []Quotation{{Text: "Les serres ouvrent à 10 heures"}})
	if err != nil || len(places[0]) != 1 {
		t.Fatalf("places are %v, error %v", places, err)
	}
	s := &Search{}
	if !a.bring(s, places[0][0]) || len(s.Candidates) != 1 || !a.bring(s, places[0][0]) || len(s.Candidates) != 1 {
		t.Errorf("brought are %+v", s.Candidates)
	}
	for name, at := range map[string]Place{"a document that is gone": {"gone.pdf", 0, 0}, "a passage that is gone": {"house.pdf", 9, 0}, "a sentence that is gone": {"house.pdf", 0, 9}} {
		if a.bring(&Search{}, at) {
			t.Errorf("%s was brought", name)
		}
	}
}

func TestLessonsThatMeanTheSame(t *testing.T) {
	a := answerer(t)
	all := []Lesson{
		{Question: "Where may my poodle run about?"}, {Question: "When does train 11 leave?"},
		{Question: "where can my poodle run about"}, {Question: "When does train 13 leave?"},
		{Question: "And in summer?", After: []string{"When does train 11 leave?"}},
	}
	lessons, err := a.Learn(t.Context(), all, nil)
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []string{"", "", all[0].Question, "", ""} {
		if same, _ := lessons.Same(i); same.Question != want {
			t.Errorf("%q means the same as %q, want %q", all[i].Question, same.Question, want)
		}
	}
	again, err := a.Learn(t.Context(), all[:2], lessons)
	if err != nil || !slices.Equal(again.vectors[1], lessons.vectors[1]) {
		t.Errorf("learnt again, error %v", err)
	}
}
