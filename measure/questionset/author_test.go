package questionset

import (
	"strings"
	"testing"

	"jardinet/measure"
)

func list() *List {
	return &List{Prefix: "q-", Documents: map[string]string{
		"SV": "../../demo/documents/seed-vault-manual.pdf", "ST": "../../demo/documents/storm-damage-report.pdf",
	}}
}

func TestSet(t *testing.T) {
	const lines = `# kind | question | answer | accept | evidence | after
lookup | How long? | Four hours | four hours;4 h | SV no longer than four hours in all
two | Both? | Yes | yes | SV no longer than four hours in all && ST Highest gust, 134 km/h || ST 134 km/h at 03:20

followup | And now? | Yes | yes | SV no longer than four hours in all | How long?
unanswerable | How many tigers? | | |
`
	data, err := list().Set([]byte(lines))
	if err != nil {
		t.Fatal(err)
	}
	set, err := measure.ReadSet("q.jsonl", data)
	if err != nil {
		t.Fatal(err)
	}
	q := set.Questions
	if len(q) != 4 || q[0].ID != "q-001" || q[0].Evidence[0].Page != 4 || q[0].Evidence[0].Document != "seed-vault-manual.pdf" || len(q[0].Accept) != 2 {
		t.Fatalf("questions are %+v", q)
	}
	if e := q[1].Evidence; len(e) != 2 || len(e[0].All) != 2 || e[1].Document != "storm-damage-report.pdf" {
		t.Errorf("evidence is %+v", e)
	}
	if q[2].After[0] != "How long?" || q[3].CanBeAnswered() || !q[0].CanBeAnswered() {
		t.Errorf("questions are %+v", q)
	}
}

func TestMistakes(t *testing.T) {
	for line, want := range map[string]string{
		"lookup | How? | x | x | SV this stands nowhere": "does not stand",
		"lookup | How? | x | x | XX some words":          `"XX"`,
		"lookup | How? | x | x |":                        "no evidence",
	} {
		if _, err := list().Set([]byte(line)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q gives %v, want %q", line, err, want)
		}
	}
}

func TestQuotationOnSeveralPages(t *testing.T) {
	l := list()
	var warned []string
	l.Warn = func(s string) { warned = append(warned, s) }
	if _, err := l.Set([]byte("lookup | What? | x | x | SV cold store")); err != nil || len(warned) != 1 {
		t.Errorf("warned %v, error %v", warned, err)
	}
}

func TestQuotationIsFoundEverywhere(t *testing.T) {
	const line = "lookup | How long? | Four hours | four hours | SV no longer than four hours in all\n"
	l := list()
	l.Documents["again"] = l.Documents["SV"]
	for everywhere, want := range map[bool]int{false: 1, true: 2} {
		l.Everywhere = everywhere
		data, err := l.Set([]byte(line))
		if err != nil {
			t.Fatal(err)
		}
		set, err := measure.ReadSet("q.jsonl", data)
		if err != nil || len(set.Questions[0].Evidence) != want {
			t.Errorf("everywhere %v: evidence is %+v, error %v", everywhere, set.Questions[0].Evidence, err)
		}
	}
}

func TestBears(t *testing.T) {
	const page = "Seed may stay out for no longer than four hours in all. The keeper, Dr Ilse Brandvold, signs."
	for _, test := range []struct {
		accept []string
		answer string
		want   bool
	}{
		{[]string{"4 hours"}, "", true}, {[]string{"nine hours"}, "The keeper Brandvold signs", true},
		{[]string{"nine hours"}, "The Director signs twice in red", false}, {nil, "No", true},
	} {
		if got := Bears(page, &measure.Question{Accept: test.accept, Answer: test.answer}); got != test.want {
			t.Errorf("%v, %q: %v", test.accept, test.answer, got)
		}
	}
}
