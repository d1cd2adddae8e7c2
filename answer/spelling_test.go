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
