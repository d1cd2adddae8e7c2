package answer

import (
	"context"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"jardinet/modelapi"
	"jardinet/simulated"
)

// withModel returns an answerer whose answers a stand-in writes.
func withModel(t *testing.T, mode simulated.Mode) (*Answerer, *simulated.Server) {
	t.Helper()
	s, err := simulated.New(mode)
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(s)
	t.Cleanup(server.Close)
	a := answerer(t)
	a.Trace, a.Style.Certain = true, 0.01
	a.Style.Model = &Model{Server: modelapi.Server{URL: server.URL + "/v1", Model: "stand-in", Policy: anywhere(server.URL)}}
	return a, s
}

// anywhere is the policy of an operator who lets the service reach one server.
func anywhere(address string) *modelapi.Policy {
	return &modelapi.Policy{Hosts: []string{strings.TrimPrefix(address, "http://")}}
}

const coldQuestion = "How long may seed stay out of the cold store?"

// bearsOut fails the test unless every statement has a citation whose quote
// bears it.
func bearsOut(t *testing.T, a *Answer) {
	t.Helper()
	if a.State != NotFound && len(a.Statements) == 0 {
		t.Error("an answer without a statement")
	}
	for _, s := range a.Statements {
		if s.Unproven {
			continue
		}
		proven := slices.ContainsFunc(s.Citations, func(n int) bool {
			ok, _ := grounded(s.Text, a.Citations[n-1].Quote+strings.Join(a.Citations[n-1].Section, " "), "en")
			return ok
		})
		if !proven {
			t.Errorf("nothing bears out %q", s.Text)
		}
	}
}

func TestModelThatBehaves(t *testing.T) {
	a, _ := withModel(t, simulated.Good)
	var draft strings.Builder
	a.Draft = func(part string) { draft.WriteString(part) }
	out, err := a.Ask(t.Context(), coldQuestion, nil)
	if err != nil {
		t.Fatal(err)
	}
	bearsOut(t, out)
	if out.Note != "" || out.Trace.Model == nil || out.Trace.Model.Usage.Prompt == 0 {
		t.Errorf("note %q, trace %+v", out.Note, out.Trace.Model)
	}
	if draft.String() != out.Trace.Model.Said || draft.Len() == 0 {
		t.Errorf("streamed %q, said %q", draft.String(), out.Trace.Model.Said)
	}
	if system := out.Trace.Model.Messages[0].Content; !strings.Contains(system, "It is data") {
		t.Errorf("the model is told %q", system)
	}
}

func TestModelsThatDoNot(t *testing.T) {
	unaided := answerer(t)
	unaided.Style.Certain = 0.01
	without, err := unaided.Ask(t.Context(), coldQuestion, nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, mode := range []simulated.Mode{simulated.Invents, simulated.Wrong, simulated.Breaks, simulated.Down, simulated.Obeys} {
		t.Run(string(mode), func(t *testing.T) {
			a, _ := withModel(t, mode)
			out, err := a.Ask(t.Context(), coldQuestion, nil)
			if err != nil {
				t.Fatal(err)
			}
			bearsOut(t, out)
			if strings.Contains(out.Text, "bonus") {
				t.Errorf("what was invented is in the answer: %q", out.Text)
			}
			switch mode {
			case simulated.Invents, simulated.Wrong:
				if len(out.Trace.Model.Dropped) != 1 || out.Note != "" {
					t.Errorf("dropped %q, note %q", out.Trace.Model.Dropped, out.Note)
				}
			case simulated.Breaks, simulated.Down:
				if out.Note == "" || out.Statements[0].Text != without.Statements[0].Text {
					t.Errorf("note %q, statements %+v", out.Note, out.Statements)
				}
			}
		})
	}
}

func TestUngroundedIsMarked(t *testing.T) {
	a, _ := withModel(t, simulated.Invents)
	a.Style.Model.Ungrounded = "mark"
	out, err := a.Ask(t.Context(), coldQuestion, nil)
	if err != nil {
		t.Fatal(err)
	}
	if n := len(out.Statements); n != 2 || out.Statements[0].Unproven || !out.Statements[1].Unproven {
		t.Errorf("statements %+v", out.Statements)
	}
}

func TestSlowModelIsNotWaitedFor(t *testing.T) {
	a, s := withModel(t, simulated.Slow)
	s.Delay = time.Minute
	a.Style.Model.Seconds = 0.05
	out, err := a.Ask(t.Context(), coldQuestion, nil)
	if err != nil {
		t.Fatal(err)
	}
	bearsOut(t, out)
	if !strings.Contains(out.Note, "too long") {
		t.Errorf("note %q", out.Note)
	}
}

func TestBusyModelIsAskedAgain(t *testing.T) {
	a, s := withModel(t, simulated.Busy)
	out, err := a.Ask(context.Background(), coldQuestion, nil)
	if err != nil {
		t.Fatal(err)
	}
	if out.Note != "" || s.Requests.Load() != 3 {
		t.Errorf("note %q after %d requests", out.Note, s.Requests.Load())
	}
}

func TestModelIsNotAskedWhatTheDocumentsLack(t *testing.T) {
	a, s := withModel(t, simulated.Good)
	a.Style.Certain = 1
	out, err := a.Ask(t.Context(), "Where do the tigers live?", nil)
	if err != nil || out.State != NotFound || s.Requests.Load() != 0 {
		t.Errorf("state %s after %d requests, error %v", out.State, s.Requests.Load(), err)
	}
}

func TestGrounded(t *testing.T) {
	evidence := "Seed may stay out of the cold store for no longer than four hours. The Keeper of Seeds, Ada Brill, signs for it."
	for _, test := range []struct {
		sentence string
		want     bool
	}{
		{"Seed may not stay out of the cold store for longer than four hours.", true},
		{"Seed may stay out of the store no longer than four hours.", true},
		{"Ada Brill, Keeper of Seeds, signs for it.", false}, // in another order
		{"The Keeper of Seeds, Ada Brill, signs.", true},
		{"The Keeper of Seeds, Ada Brill, must sign for it.", false},
		{"The Keeper of Seeds, Ada Brill, always signs for it.", false},
		{"The Keeper, Ada Brill, signs for seed.", false},
		{"Seed may stay out of the cold store for four hours or more.", false},
		{"Seed can stay out of the cold store for no longer than four hours.", false},
		{"Seed may stay out of the warm store for no longer than four hours.", false},
		{"Four hours may stay out of the cold store for no longer than seed.", false},
		{"Seed may stay out of the cold store for no longer than 6 hours.", false},
		{"Seed may stay out no longer than four hours, says Ruth Marsh.", false},
		{"The seed stays out of the cold store for four hours.", false}, // does not deny
		{"Penguins swim in winter, never in summer.", false},
		{"", false},
	} {
		if ok, why := grounded(test.sentence, evidence, "en"); ok != test.want {
			t.Errorf("%q: %t, lacks %q", test.sentence, ok, why)
		}
	}
}

func TestStyle(t *testing.T) {
	a := answerer(t)
	a.Style.Certain = 0.01
	plain, err := a.Ask(t.Context(), coldQuestion, nil)
	if err != nil {
		t.Fatal(err)
	}
	a.Style = Style{Certain: 0.01, Statements: 1, Add: "Ask the keeper in doubt."}
	out, err := a.Ask(t.Context(), coldQuestion, nil)
	if err != nil {
		t.Fatal(err)
	}
	if len(out.Statements) != 1 || out.Added != "Ask the keeper in doubt." || !strings.HasSuffix(out.Text, out.Added) {
		t.Errorf("styled %+v", out)
	}
	a.Style = Style{Certain: 0.01, LeaveOut: []string{plain.Statements[0].Text[:20]}}
	if out, err = a.Ask(t.Context(), coldQuestion, nil); err != nil {
		t.Fatal(err)
	}
	for _, s := range out.Statements {
		if s.Text == plain.Statements[0].Text {
			t.Error("what was to be left out is in the answer")
		}
	}
	for want, s := range map[string]Style{
		"statements": {Statements: 99}, "leave_out": {LeaveOut: []string{" "}}, "ungrounded": {Model: &Model{Ungrounded: "sing"}},
		"address": {Model: &Model{Server: modelapi.Server{URL: "model"}}}, "longer": {Note: strings.Repeat("x", 3000)},
	} {
		if err := s.Validate(); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("error %v, want one with %q", err, want)
		}
	}
}

func TestOnlySomeDocuments(t *testing.T) {
	a := answerer(t)
	a.Only = func(key string) bool { return key == "visiteurs.pdf" }
	out, err := a.Ask(t.Context(), coldQuestion, nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range out.Citations {
		if c.Document != "visiteurs.pdf" {
			t.Errorf("%s is cited", c.Document)
		}
	}
}

// TestHurry holds that an answer comes without the model once nobody may wait any longer.
func TestHurry(t *testing.T) {
	a, s := withModel(t, simulated.Slow)
	s.Delay = time.Hour
	hurry, now := context.WithCancel(t.Context())
	a.Hurry = hurry
	a.Found = func(*Search) { time.AfterFunc(time.Millisecond, now) }
	out := ask(t, a, coldQuestion)
	if out.State != Answered || !strings.Contains(out.Note, "too long") {
		t.Errorf("it says %q, note %q", out.Text, out.Note)
	}
}
