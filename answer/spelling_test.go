package answer

import "testing"

func TestRespelt(t *testing.T) {
	known := func(word string) bool { return word == "wight" }
	for question, want := range map[string]string{
		"What temprature do the palms need?": "What temperature do the palms need?",
		"Wich colur is it?":                  "Wich colour is it?",
		"What is the tempeartrue?":           "What is the temperature?",
		"How is the wight measured?":         "How is the wight measured?",
		"What is the Pinetum?":               "What is the Pinetum?",
	} {
		if got := respelt(question, known); got != want {
			t.Errorf("%q is respelt %q, want %q", question, got, want)
		}
	}
}

func TestSlips(t *testing.T) {
	for _, test := range []struct {
		a, b string
		want int
	}{{"weight", "weight", 0}, {"wieght", "weight", 1}, {"weigth", "weight", 1}, {"wight", "weight", 1}, {"", "abc", 3}, {"abc", "xyz", 3}, {"ca", "abc", 3}} {
		if got := slips([]rune(test.a), []rune(test.b)); got != test.want {
			t.Errorf("%q and %q differ by %d, want %d", test.a, test.b, got, test.want)
		}
	}
}
