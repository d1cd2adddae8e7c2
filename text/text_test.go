package text

import (
	"slices"
	"strings"
	"testing"
)

func words(s string) []string {
	var out []string
	for _, t := range Tokens(s) {
		out = append(out, t.Word)
	}
	return out
}

func TestTokens(t *testing.T) {
	tests := []struct {
		in   string
		want []string
	}{
		{"The Dew House, at 14.5 °C", []string{"the", "dew", "house", "at", "14.5", "c"}},
		{"1,200 seeds; 0,5 mg", []string{"1200", "seeds", "0.5", "mg"}},
		{"10⁶ cells", []string{"10", "6", "cells"}},
		{"l'été où l’Œuvre", []string{"l", "ete", "ou", "l", "oeuvre"}},
		{"section 3.2.1.", []string{"section", "3.2.1"}},
		{"co\u00adoperate ﬁre GH-12", []string{"cooperate", "fire", "gh", "12"}},
		{"", nil},
	}
	for _, test := range tests {
		if got := words(test.in); !slices.Equal(got, test.want) {
			t.Errorf("Tokens(%q) = %q, want %q", test.in, got, test.want)
		}
	}
}

func TestTokensKeepTheirPlace(t *testing.T) {
	s := "Café crème, 1,200 m³"
	for _, token := range Tokens(s) {
		if again := words(s[token.Start:token.End]); len(again) != 1 || again[0] != token.Word {
			t.Errorf("bytes %d to %d are %q, token %q", token.Start, token.End, s[token.Start:token.End], token.Word)
		}
	}
}

func TestStem(t *testing.T) {
	en, fr := NewStemmer("en"), NewStemmer("fr")
	for _, pair := range [][2]string{{"ventilation", "ventilate"}, {"kept", "keeping"}, {"houses", "house"}} {
		if en.Stem(pair[0]) != en.Stem(pair[1]) {
			t.Errorf("%s and %s have stems %s and %s", pair[0], pair[1], en.Stem(pair[0]), en.Stem(pair[1]))
		}
	}
	if fr.Stem("serres") != fr.Stem("serre") {
		t.Errorf("serres and serre differ: %s, %s", fr.Stem("serres"), fr.Stem("serre"))
	}
	if got := NewStemmer("xx").Stem("houses"); got != "houses" {
		t.Errorf("a language without a stemmer changed houses to %s", got)
	}
}

func TestSentences(t *testing.T) {
	s := `Close the vents at 14.5 °C. See Fig. 3 and Dr. Okafor (see p. 12). "Is it dry?" Yes! 3.2. Title here
goes on, e.g. with this, etc. Then ends. J. Marsh signed.`
	want := []string{
		"Close the vents at 14.5 °C.", "See Fig. 3 and Dr. Okafor (see p. 12).", `"Is it dry?"`, "Yes!",
		"3.2. Title here\ngoes on, e.g. with this, etc.", "Then ends.", "J. Marsh signed.",
	}
	var got []string
	for _, span := range Sentences(s) {
		got = append(got, s[span.Start:span.End])
	}
	if !slices.Equal(got, want) {
		t.Errorf("got %q\nwant %q", got, want)
	}
}

func TestGuess(t *testing.T) {
	for in, want := range map[string]Language{
		"Wie lange darf Saatgut draußen bleiben?":    "de",
		"Combien coûte une entrée ?":                 "fr",
		"How long may seed stay out?":                "en",
		"cold store alarm":                           "en",
		"":                                           "en",
		"What does Die Zeit cost?":                   "en",
		"¿Cuánto cuesta la entrada para un adulto?":  "es",
		"Quanto costa il biglietto per la famiglia?": "it",
	} {
		if got := Guess(in, English); got != want {
			t.Errorf("Guess(%q) = %s, want %s", in, got, want)
		}
	}
}

func TestDetect(t *testing.T) {
	tests := []struct {
		in   string
		want Language
	}{
		{"The valve is closed by hand before the pump can be started.", "en"},
		{"Les serres sont ouvertes tous les jours sauf le lundi, et la visite dure une heure.", "fr"},
		{"Die Pumpe wird vor dem Öffnen des Ventils von Hand ausgeschaltet.", "de"},
		{"Aloe Agave Yucca", "en"},
	}
	for _, test := range tests {
		if got := Detect(test.in, English); got != test.want {
			t.Errorf("Detect(%q) = %s, want %s", test.in, got, test.want)
		}
	}
}

func TestContains(t *testing.T) {
	tests := []struct {
		s, part string
		want    bool
	}{
		{"for at most four hours a day", "4 hours", true},
		{"set to 14 °C at night", "14°C", true},
		{"set to 114 °C", "14 °C", false},
		{"1,200 litres", "1200 litres", true},
		{"2.4 × 10⁶ cells", "10^6", true},
		{"2.4 × 106 cells", "10⁶", false},
		{"held at −20 °C", "-20 °C", true},
		{"held at 20 °C", "-20 °C", false},
		{"anything", "", false},
	}
	for _, test := range tests {
		if got := Contains(test.s, test.part); got != test.want {
			t.Errorf("Contains(%q, %q) = %v; normal forms %q, %q", test.s, test.part, got, Normal(test.s), Normal(test.part))
		}
	}
}

func BenchmarkTokens(b *testing.B) {
	const s = "The Dew House holds the filmy ferns and the mosses, whose leaves are one cell thick and dry out within the hour; it is kept at 12 °C."
	b.ReportAllocs()
	b.SetBytes(int64(len(s)))
	for b.Loop() {
		Tokens(s)
	}
}

func BenchmarkStem(b *testing.B) {
	stemmer := NewStemmer(English)
	vocabulary := words("glasshouses ventilation operating quarantine procedures inspected temperatures kept humidities")
	b.ReportAllocs()
	for b.Loop() {
		for _, w := range vocabulary {
			stemmer.Stem(w)
		}
	}
}

// FuzzTokens checks that tokens lie in the text, in order, and that folding is
// stable: what is indexed must be found by itself.
func FuzzTokens(f *testing.F) {
	f.Add("Café 1,200.5 m³ — co\u00adop ﬁre 10⁶")
	f.Fuzz(func(t *testing.T, s string) {
		end := 0
		for _, token := range Tokens(s) {
			if token.Start < end || token.End <= token.Start || token.End > len(s) {
				t.Fatalf("token %+v of %q after byte %d", token, s, end)
			}
			end = token.End
			if again := Fold(token.Word); again != token.Word {
				t.Fatalf("%q folds to %q and then to %q", s[token.Start:token.End], token.Word, again)
			}
		}
	})
}

// FuzzSentences checks that sentences are in order and lose nothing but space.
func FuzzSentences(f *testing.F) {
	f.Add("One. Two? e.g. three… (Four.) 3.2. Five")
	f.Fuzz(func(t *testing.T, s string) {
		end := 0
		for _, span := range Sentences(s) {
			if span.Start < end || span.End <= span.Start || strings.TrimSpace(s[end:span.Start]) != "" {
				t.Fatalf("sentence %+v of %q after byte %d", span, s, end)
			}
			end = span.End
		}
		if strings.TrimSpace(s[end:]) != "" {
			t.Fatalf("%q is lost at the end", s[end:])
		}
	})
}

func TestNormal(t *testing.T) {
	for s, want := range map[string]string{
		"Four Hours": "4 hours", "1,200 l": "1200 l", "14 °C": "14 ° c", "10⁶/ml": "10 ^ 6 ml", "−3": "- 3", "£3.50": "£ 3.50", "twenty-one": "20 1",
		"0,5 %": "0.5 %", "": "",
	} {
		if got := Normal(s); got != want {
			t.Errorf("Normal(%q) = %q, want %q", s, got, want)
		}
	}
}

func TestFunctionWords(t *testing.T) {
	for _, word := range []string{"the", "which", "does"} {
		if !IsFunctionWord(word, English) {
			t.Errorf("%q carries meaning", word)
		}
	}
	if IsFunctionWord("house", English) || !IsFunctionWord("les", "fr") || IsFunctionWord("the", "xx") {
		t.Error("function words of languages are mixed up")
	}
}

func TestNumbers(t *testing.T) {
	for s, want := range map[string]string{"1,200": "1200", "1,234,567.8": "1234567.8", "0,5": "0.5", "12": "12", "3.2.1": "3.2.1", "1,20": "1.20"} {
		if got := number(s); got != want {
			t.Errorf("number(%q) = %q, want %q", s, got, want)
		}
	}
}

func TestGarbled(t *testing.T) {
	for _, plain := range []string{
		"The duty officer closes the valve and writes the reading into the humidity log.",
		"Der Gärtner schließt das Ventil und schreibt den Messwert in das Buch.",
		"Le jardinier ferme la vanne et inscrit la mesure dans le registre.",
		"Set ser_get_char(3) to 0x4f, see /etc/kannel.conf; 42 of 97.",
	} {
		if g := Garbled(plain); g > 0.1 {
			t.Errorf("%q is garbled by %.2f", plain, g)
		}
	}
	for _, broken := range []string{
		"Zkh gxwb riilfhu forvhv wkh ydoyh dqg zulwhv wkh uhdglqj lqwr wkh kxplglwb orj",
		strings.Repeat("\ue001\ue014\ue022 ", 20),
		strings.Repeat("\ufffd\ufffd\ufffd\ufffd ", 20),
	} {
		if g := Garbled(broken); g < 0.3 {
			t.Errorf("%q is garbled by only %.2f", broken, g)
		}
	}
}
