package structured

import (
	"context"
	"errors"
	"strings"
	"testing"

	"jardinet/answer"
)

// said are the answers of a made-up manual.
var said = map[string]*answer.Answer{
	"set point":  {State: answer.Answered, Short: "−20 °C", Statements: []answer.Statement{{Text: "The set point is −20 °C."}}, Citations: []answer.Citation{{Page: 5}}},
	"keeper":     {State: answer.Answered, Short: "Edda Brook", Statements: []answer.Statement{{Text: "The keeper is Edda Brook."}}},
	"since":      {State: answer.Answered, Short: "since 3 March 2009", Statements: []answer.Statement{{Text: "It stands since 3 March 2009."}}},
	"sealed":     {State: answer.Answered, Short: "Yes", Verdict: "yes"},
	"rooms":      {State: answer.Answered, Short: "the laboratory, the drying room and the cold store"},
	"steps":      {State: answer.Answered, List: true, Statements: []answer.Statement{{Text: "1. Open the door."}, {Text: "2. Close it."}}},
	"level":      {State: answer.Answered, Short: "a high risk", Statements: []answer.Statement{{Text: "It is a high risk."}}},
	"conditions": {State: answer.Answered, Citations: []answer.Citation{{DocumentID: "manual", Page: 5}}},
}

var source = Source{
	Ask: func(_ context.Context, question string) (*answer.Answer, error) {
		for key, a := range said {
			if strings.Contains(question, key) {
				return a, nil
			}
		}
		return &answer.Answer{State: answer.NotFound}, nil
	},
	Tables: func(context.Context, string, int) ([][][]string, error) {
		return [][][]string{
			{{"Month", "Visitors"}, {"May", "12"}},
			{{"Room", "Temperature °C", "Alarm"}, {"Cold store", "−20", "above −16 °C"}, {"Laboratory", "20", "none"}},
		}, nil
	},
}

func TestFill(t *testing.T) {
	const form = `{"type":"object","required":["set_point"],"properties":{
		"set_point":{"type":"number","description":"What is the set point?"},
		"keeper":{"type":"string"},
		"since":{"type":"string","format":"date"},
		"sealed":{"type":"boolean"},
		"rooms":{"type":"array","items":{"type":"string"}},
		"steps":{"type":"array","items":{"type":"string"}},
		"level":{"enum":["low","high"]},
		"conditions":{"type":"array","items":{"type":"object","properties":{"room":{"type":"string"},"temperature":{"type":"number"},"alarm":{"type":["string","null"]}}}},
		"owner":{"type":["string","null"]}}}`
	got, err := Fill(t.Context(), "The vault", []byte(form), source)
	if err != nil {
		t.Fatal(err)
	}
	const want = `{"conditions":[{"alarm":"above −16 °C","room":"Cold store","temperature":-20},{"alarm":"none","room":"Laboratory","temperature":20}],` +
		`"keeper":"Edda Brook","level":"high","owner":null,"rooms":["the laboratory","the drying room","the cold store"],"sealed":true,"set_point":-20,"since":"2009-03-03","steps":["Open the door.","Close it."]}`
	if string(got.Value) != want {
		t.Errorf("the value is %s\nwant %s", got.Value, want)
	}
	if f := got.Fields["/owner"]; f.Reason != "the documents do not say" || f.Question != "The vault: owner?" {
		t.Errorf("what is not said is %+v", f)
	}
	if f := got.Fields["/set_point"]; len(f.Citations) != 1 || f.Citations[0].Page != 5 {
		t.Errorf("the set point comes from %+v", f)
	}
}

func TestWhatDoesNotFit(t *testing.T) {
	for form, says := range map[string]string{
		`{"type":"object","required":["owner"],"properties":{"owner":{"type":"string"}}}`:   "owner is null, since the documents do not say",
		`{"type":"object","required":["keeper"],"properties":{"keeper":{"type":"number"}}}`: "is no number",
		`{"type":"object","properties":{"keeper":{"type":"string","maxLength":3}}}`:         "does not fit",
		`{"type":"strange"}`:           "cannot be answered by",
		`{"$ref":"file:///etc/hosts"}`: "cannot be answered by",
		`[`:                            "no JSON",
	} {
		if _, err := Fill(t.Context(), "The vault", []byte(form), source); !errors.Is(err, ErrSchema) || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v", form, err)
		}
	}
}

func TestNumbersAndDays(t *testing.T) {
	for words, want := range map[string]string{
		"1,024 litres": "1024", "1.024,5 Liter": "1024.5", "12,5 °C": "12.5", "−0.5": "-0.5", "four hours": "4", "about 3 m": "3", "1 200 kg": "1200", "007": "7",
	} {
		if got, reason := numberIn(words, words, &schema{Type: types{"number"}}); reason != "" || got.(interface{ String() string }).String() != want {
			t.Errorf("%q is read as %v (%s), want %s", words, got, reason, want)
		}
	}
	if got, _ := numberIn("at 18 °C for 4 hours", "", &schema{Type: types{"integer"}, Unit: "hours"}); got == nil || got.(interface{ String() string }).String() != "4" {
		t.Errorf("the hours are %v", got)
	}
	for words, want := range map[string]string{
		"on 3 March 2009": "2009-03-03", "March 3rd, 2009": "2009-03-03", "am 3.3.2009": "2009-03-03", "le 1er août 2020": "2020-08-01", "2020-02-01": "2020-02-01", "31 February 2020": "", "soon": "",
	} {
		if got := dayIn(words); got != want {
			t.Errorf("%q names %q, want %q", words, got, want)
		}
	}
}
