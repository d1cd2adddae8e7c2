package rank

import (
	"slices"
	"strings"
	"testing"
)

func TestGlossaryCSV(t *testing.T) {
	entries := []Entry{
		{Kind: Synonym, Term: "plant room", Means: "boiler house"},
		{Kind: Abbreviation, Term: "SSI", Means: "Standing Safety Instruction"},
		{Kind: Translation, Term: "Saatgut", Means: "seed, stored", Language: "de", MeansLanguage: "en"},
	}
	got, err := ReadGlossary(WriteGlossary(entries))
	if err != nil || !slices.Equal(got, entries) {
		t.Errorf("read back %+v, error %v", got, err)
	}
	for data, want := range map[string]string{
		"":                                   "first line",
		"term,means\na,b\n":                  "column kind",
		"kind,term,means\nlike,a,b\n":        "line 2",
		"kind,term,means\nsynonym,,b\n":      "both sides",
		"kind,term,means\ntranslation,a,b\n": "means_language",
		"kind,term,means\nsynonym,a b c d e f,g\n": "more than",
	} {
		if _, err := ReadGlossary([]byte(data)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: error %v, want one with %q", data, err, want)
		}
	}
}

func TestAbbreviations(t *testing.T) {
	for s, want := range map[string]string{
		"Read the Standing Safety Instruction (SSI) aloud.":     "SSI=Standing Safety Instruction",
		"two Quality of Service (QoS) classes":                  "",
		"Personal protective equipment (PPE) is worn.":          "PPE=Personal protective equipment",
		"Passive infrared receivers (PIRs) switch it.":          "PIR=Passive infrared receivers",
		"The Department of Plant Health (DPH) decides.":         "DPH=Department of Plant Health",
		"See the drawing (A) and the note (see page 4).":        "",
		"The pump (NASA) is old.":                               "",
		"Heading\nwith a break Safety\nInstruction (SI) wrong.": "",
	} {
		var got string
		if found := Abbreviations(s); len(found) > 0 {
			got = found[0].Term + "=" + found[0].Means
		}
		if got != want {
			t.Errorf("%q explains %q, want %q", s, got, want)
		}
	}
}
