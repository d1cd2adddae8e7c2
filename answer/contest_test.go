package answer

import (
	"slices"
	"testing"
)

func TestContests(t *testing.T) {
	for question, want := range map[string][]string{
		"Which is larger, the Palm House or the Dew House":                     {"How large is the Palm House?", "How large is the Dew House?"},
		"Which house is warmer by day, the Palm House or the Dew House":        {"What is the temperature by day in the Palm House?", "What is the temperature by day in the Dew House?"},
		"Is the Palm House older than the Dew House":                           {"How old is the Palm House?", "How old is the Dew House?"},
		"Which weighs more, Bryony or Tansy":                                   {"How heavy is Bryony?", "How heavy is Tansy?"},
		"Which house has more visitors at once, the Palm or the Dew House":     {"How many visitors has the Palm at once?", "How many visitors has the Dew House at once?"},
		"Compare the night minimum of the Palm House with that of the Dew":     {"What is the night minimum of the Palm House?", "What is the night minimum of the Dew?"},
		"How does the humidity of the Palm House compare with that of the Dew": {"What is the humidity of the Palm House?", "What is the humidity of the Dew?"},
		"What is the load in the Palm House compared with the Dew House":       {"What is the load in the Palm House?", "What is the load in the Dew House?"},
		"How long does it take to dry orchids compared with conifers":          {"How long does it take to dry orchids?", "How long does it take to dry conifers?"},
		"Is there more than one gate":                                          nil, "Which is larger": nil, "Is it older than that": nil, "Which has more pull, the horse or the ox of the farm": {"How many pull has the horse?", "How many pull has the ox of the farm?"},
	} {
		var got []string
		if c := contestOf(question); c != nil {
			got = questionsOf(c.parts())
		}
		if !slices.Equal(got, want) {
			t.Errorf("%q is asked as %q", question, got)
		}
	}
}

func TestTheFiguresDecide(t *testing.T) {
	for _, test := range []struct {
		question, first, second, want string
	}{
		{"Which is larger, the Palm House or the Dew House", "1,180 m²", "210 m²", "The Palm House"},
		{"Which is smaller, the Palm House or the Dew House", "1,180 m²", "210 m²", "The Dew House"},
		{"Which is larger, the Palm House or the Dew House", "1,180 m²", "160 litres", ""},
		{"Which is older, the Palm House or the Dew House", "1898", "1906", "The Palm House"},
		{"Is the Palm House older than the Dew House", "1898", "1906", "Yes"},
		{"Is the Palm House newer than the Dew House", "1898", "1906", "No"},
		{"Which is warmer, the Orchid House or the Arid House", "20 to 24 °C", "20 to 30 °C", "The Arid House"},
		{"Which is warmer, the Orchid House or the Arid House", "20 °C", "20 °C", ""},
		{"Which is warmer, the Orchid House or the Arid House", "", "20 °C", ""},
		{"Compare the warmth of the Orchid House with that of the Arid House", "20 °C", "30 °C", ""},
	} {
		c := contestOf(test.question)
		if c == nil {
			t.Errorf("%q sets nothing against anything", test.question)
			continue
		}
		given := &Answer{State: Answered, Text: "text", Parts: []Part{{Short: test.first}, {Short: test.second}}}
		if c.decide(given); given.Verdict != test.want {
			t.Errorf("%s, of %q and %q: %q, want %q", test.question, test.first, test.second, given.Verdict, test.want)
		}
	}
}

// TestWhichOfTwo asks of the documents.
func TestWhichOfTwo(t *testing.T) {
	got := ask(t, asker(t), "Is the night minimum of the Dew House colder than that of the Orchid House?")
	if got.Verdict != "" {
		t.Logf("a verdict: %s", got.Verdict)
	}
	sides := ask(t, asker(t), "Compare the night minimum of the Dew House with that of the Orchid House.")
	if len(sides.Parts) != 2 || sides.Parts[0].Short != "12 °C" {
		t.Errorf("both sides: %+v", sides.Parts)
	}
}
