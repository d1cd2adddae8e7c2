package answer

import (
	"maps"
	"slices"
	"testing"

	"jardinet/layout"
	"jardinet/passage"
)

func TestSuperlativeOf(t *testing.T) {
	for question, want := range map[string]string{
		"which locomotive is the heaviest": "heaviest", "what is the cheapest ticket": "cheapest", "and which year had the fewest": "fewest",
		"which of them is open at least ten hours": "", "how long is the longest tunnel": "", "may i take the lowest shelf": "", "which house is warm": "",
	} {
		got := ""
		if s := superlativeOf(question); s != nil {
			got = s.word
		}
		if got != want {
			t.Errorf("%s: %q, want %q", question, got, want)
		}
	}
}

func TestNumbersOf(t *testing.T) {
	got := numbersOf("Alpine House · Lowest temperature °C: −5 · Cost £: 1,200.50 · Keeper: R2 · Days: 15 to 19")
	want := map[string]float64{"Lowest temperature °C": -5, "Cost £": 1200.5, "Days": 15}
	if !maps.Equal(got, want) {
		t.Errorf("numbers are %v, want %v", got, want)
	}
}

// rows makes a passage of the rows of a table.
func rows(lines ...string) *passage.Passage {
	p := &passage.Passage{Section: []string{"2.1 A table"}, Language: "en"}
	for _, line := range lines {
		p.Sentences = append(p.Sentences, passage.Sentence{Start: len(p.Text), End: len(p.Text) + len(line), Kind: layout.Table})
		p.Text += line
	}
	return p
}

// TestTheGreatestOfATable asks for rows over two passages of one table.
func TestTheGreatestOfATable(t *testing.T) {
	candidates := []Candidate{
		{DocumentID: "book", Passage: rows("Marchbank · Weight t: 8.2 · Speed: 12", "Bryony · Weight t: 7.5 · Speed: 15", "Together · Weight t: 22.6")},
		{DocumentID: "book", Passage: rows("Tansy · Weight t: 6.9 · Speed: 15")},
		{DocumentID: "other", Passage: rows("Crane · Weight t: 40")},
	}
	for _, test := range []struct {
		question string
		want     [][]float64
	}{
		{"which locomotive is the heaviest", [][]float64{{1, -1, 0}, {-1}, {0}}},
		{"which locomotive is the lightest", [][]float64{{-1, -1, 0}, {1}, {0}}},
		{"which locomotive is the fastest", [][]float64{{-1, 1, 0}, {1}, {0}}},
	} {
		asked := superlativeOf(test.question)
		a := asker(t)
		q := a.analyse(test.question, nil)
		search := &Search{Query: q.query}
		if err := a.search(t.Context(), q.standalone, "en", search, 10); err != nil {
			t.Fatal(err)
		}
		m := newMatcher(q, search.asked).with(search.asked.Readers()[0])
		for i, got := range m.greatest(asked, candidates) {
			if !slices.Equal(got, test.want[i]) {
				t.Errorf("%s, passage %d: %v, want %v", test.question, i, got, test.want[i])
			}
		}
	}
}

// TestTheCheapestOfWhatIsAskedFor takes the least of the rows that share the most with
// the question.
func TestTheCheapestOfWhatIsAskedFor(t *testing.T) {
	p := rows("Adult, Sunday · Single £: 4.50", "Adult · Single £: 3.50", "Child · Single £: 2.00", "Dog · Single £: 1.00")
	m := newMatcher(questionOf("What is the cheapest ticket for an adult?"), nil)
	a := asker(t)
	q := a.analyse("What is the cheapest ticket for an adult?", nil)
	search := &Search{Query: q.query}
	if err := a.search(t.Context(), q.standalone, "en", search, 10); err != nil {
		t.Fatal(err)
	}
	m.reader = search.asked.Readers()[0]
	got := m.greatest(superlativeOf("what is the cheapest ticket for an adult"), []Candidate{{DocumentID: "fares", Passage: p}})
	if !slices.Equal(got[0], []float64{-1, 1, -1, -1}) {
		t.Errorf("the cheapest rows for adults are %v", got[0])
	}
}

func TestExtremeOf(t *testing.T) {
	for question, column := range map[string]string{
		"how much lead was found at most": "Highest", "what is the lowest temperature": "Lowest temperature °C", "how much is allowed up to the gate": "Maximum",
	} {
		if p := extremeOf(question); p == nil || !p.MatchString(column) || p.MatchString("Mean") {
			t.Errorf("%s: %v", question, p)
		}
	}
	if p := extremeOf("how much lead was found"); p != nil {
		t.Errorf("nothing extreme is asked for, and %v looked for", p)
	}
}

// TestTheColumnThatIsMeant compares by the word that the superlative goes with.
func TestTheColumnThatIsMeant(t *testing.T) {
	table := rows("Palm House · High alarm °C: 34 · Night minimum °C: 17 · Humidity %: 85 · Vents open °C: 28", "Dew House · High alarm °C: 24 · Night minimum °C: 12 · Humidity %: 98 · Vents open °C: 21")
	numbers := []map[string]float64{numbersOf(table.Text[:table.Sentences[0].End]), numbersOf(table.Text[table.Sentences[1].Start:])}
	for question, want := range map[string]string{
		"Which house has the highest night minimum?": "Night minimum °C", "Which house has the most humid air?": "Humidity %", "Which house is the highest?": "",
	} {
		a := asker(t)
		q := a.analyse(question, nil)
		search := &Search{Query: q.query}
		if err := a.search(t.Context(), question, "en", search, depth); err != nil {
			t.Fatal(err)
		}
		q.query = search.Query
		m := newMatcher(q, search.asked)
		if got, _ := m.columnOf(q.superlative, numbers, "en"); got != want {
			t.Errorf("%s compares %q, want %q", question, got, want)
		}
	}
}
