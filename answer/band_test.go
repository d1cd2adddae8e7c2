package answer

import (
	"maps"
	"math"
	"slices"
	"testing"

	"jardinet/layout"
	"jardinet/passage"
)

func TestAmountsOf(t *testing.T) {
	for _, test := range []struct {
		question string
		want     []amount
	}{
		{"Who may sign for a purchase of £9,000?", []amount{{9000, "£"}}},
		{"What does a ticket for a 10-year-old cost?", []amount{{10, "year"}}},
		{"May I carry 20 kg or 3.5 litres?", []amount{{20, "kilogram"}, {3.5, "litre"}}},
		{"Who reviewed the 2024 policy?", nil},
		{"What does rule 4 say?", []amount{{4, "say"}}},
	} {
		if got := amountsOf(test.question); !slices.Equal(got, test.want) {
			t.Errorf("%q: %v, want %v", test.question, got, test.want)
		}
	}
}

func TestSlack(t *testing.T) {
	none, other := -1.0, math.NaN()
	for _, test := range []struct {
		s     string
		asked amount
		row   bool
		want  float64
	}{
		{"up to £250 · Who may sign: any grower", amount{9000, "£"}, true, other},
		{"up to £25,000 · Who may sign: the Director", amount{9000, "£"}, true, 16000},
		{"above £25,000 · Who may sign: Treasurer", amount{9000, "£"}, true, other},
		{"above £25,000 · Who may sign: Treasurer", amount{30000, "£"}, true, math.MaxFloat64},
		{"Child 3 to 15 · Single £: 2.00", amount{10, "year"}, true, 5},
		{"Child 3 to 15 · Single £: 2.00", amount{16, "year"}, true, other},
		{"A spill of more than five litres is told at once.", amount{7, "litre"}, false, math.MaxFloat64},
		{"At 32 °C and above, work is limited.", amount{35, "degree"}, false, math.MaxFloat64},
		{"No more than 25 kilograms travel at one time.", amount{20, "kilogram"}, false, 5},
		{"No more than 25 litres travel at one time.", amount{20, "kilogram"}, false, none},
	} {
		if got := slack(test.s, test.asked, test.row); got != test.want && !(math.IsNaN(got) && math.IsNaN(test.want)) {
			t.Errorf("%v in %q: %v, want %v", test.asked, test.s, got, test.want)
		}
	}
}

func TestOnlyTheNearestRowHolds(t *testing.T) {
	p := &passage.Passage{}
	for _, row := range []string{"up to £250 · any grower", "up to £2,500 · head of department", "up to £25,000 · Finance Director", "above £25,000 · Treasurer"} {
		p.Sentences = append(p.Sentences, passage.Sentence{Start: len(p.Text), End: len(p.Text) + len(row), Kind: layout.Table})
		p.Text += row
	}
	for _, test := range []struct {
		asked string
		want  []float64
	}{
		{"a purchase of £200", []float64{1, -1, -1, -1}},
		{"a purchase of £9,000", []float64{-1, -1, 1, -1}},
		{"a purchase of £90,000", []float64{-1, -1, -1, 1}},
		{"a purchase", []float64{0, 0, 0, 0}},
	} {
		if got := bands(p, amountsOf(test.asked)); !slices.Equal(got, test.want) {
			t.Errorf("%q: %v, want %v", test.asked, got, test.want)
		}
	}
}

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

// TestTheGreatestOfATable asks for rows over two passages of one table.
func TestTheGreatestOfATable(t *testing.T) {
	rows := func(lines ...string) *passage.Passage {
		p := &passage.Passage{Section: []string{"2.1 The fleet"}, Language: "en"}
		for _, line := range lines {
			p.Sentences = append(p.Sentences, passage.Sentence{Start: len(p.Text), End: len(p.Text) + len(line), Kind: layout.Table})
			p.Text += line
		}
		return p
	}
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
		m.table = m.columns(asked, candidates)
		for i := range candidates {
			if got := m.extremes(asked, &candidates[i]); !slices.Equal(got, test.want[i]) {
				t.Errorf("%s, passage %d: %v, want %v", test.question, i, got, test.want[i])
			}
		}
	}
}
