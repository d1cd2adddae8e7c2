package answer

import (
	"testing"

	"jardinet/passage"
	"jardinet/text"
)

func TestCounts(t *testing.T) {
	for _, test := range []struct {
		sentence, stem string
		want           bool
	}{
		{"We counted 412,600 visitors, 6.3 per cent more than in 2024.", "visitor", true},
		{"Of our visitors 44 per cent came from within 30 kilometres.", "visitor", false},
		{"It has four rooms and twelve heated benches.", "bench", true},
		{"Coach 3 · Seats: 16", "seat", true},
		{"The visitors wait.", "visitor", false},
		{"Each coach seats 16 and takes nobody standing.", "seat", true},
		{"Keep the number of geese below 60 by oiling eggs.", "goos", true},
		{"The volunteers, whose hours, 71,400 of them, were given.", "hour", true},
		{"Member of the Trust · Single £: 2.50 · Return £: 4.00", "member", false},
		{"Members · Total: 21,350", "member", true},
	} {
		if got := counts(test.sentence, map[string]bool{test.stem: true}, text.NewStemmer("en")); got != test.want {
			t.Errorf("%q counts %s: %t", test.sentence, test.stem, got)
		}
	}
}

func TestCountedOf(t *testing.T) {
	for question, want := range map[string]string{
		"how many gas bottles may the restaurant keep": "bottles", "how many days of leave are there": "days", "how many school classes came": "classes",
		"and how many seats has a coach": "seats", "how many people fit in": "", "how long is it": "", "how many are there": "are",
		"on how many days was it flushed": "days", "from how many countries did they come": "countries",
	} {
		if got := countedOf(question, "en"); got != want {
			t.Errorf("%s counts %q, want %q", question, got, want)
		}
	}
}

func TestTallies(t *testing.T) {
	for sentence, want := range map[string]bool{
		"Each coach seats 16 and takes nobody standing.": true, "Two people, both wearing harness.": true, "Palm House · Visitors at once: 120": true,
		"Dew House · Day °C: 15 to 19 · Humidity %: 90 to 98": false, "Roof walkways · Certificate: harness course · Valid for: twelve months": false, "It is kept below 25 °C.": false, "Built in 1898.": false,
	} {
		if got := tallies(sentence); got != want {
			t.Errorf("%q tallies: %t", sentence, got)
		}
	}
}

func TestCountedByAnotherWord(t *testing.T) {
	a := asker(t)
	q := a.analyse("How many carriages are there?", nil)
	a.Wording.Ask("How many carriages are there?", "en", &q.query, []text.Language{"en"})
	m := newMatcher(q, nil)
	if !m.fits(q, "Bryony · Most coaches: 6", passage.Sentence{}, "en") || m.fits(q, "Bryony · Most people: 6", passage.Sentence{}, "en") {
		t.Errorf("carriages are not counted as coaches: %v", m.things)
	}
}

func TestCarriedWordsFade(t *testing.T) {
	a := asker(t)
	q := a.analyse("Who signs then?", []string{"What is the night minimum in the Dew House?", "And how is it measured?"})
	weights := map[string]float64{}
	for _, term := range q.query.Terms {
		weights[term.Word] = term.Weight
	}
	if !(weights["measured"] > weights["dew"] && weights["dew"] > 0 && weights["signs"] == 1) {
		t.Errorf("weights are %v", weights)
	}
	if _, carriedOver := weights["many"]; carriedOver {
		t.Error("a soft word was carried over")
	}
}
