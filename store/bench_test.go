package store

import (
	"encoding/json"
	"errors"
	"strings"
	"testing"
)

func TestVersionsOfASet(t *testing.T) {
	s := open(t, t.TempDir())
	c, err := s.CreateCollection(t.Context(), "garden", struct{}{})
	if err != nil {
		t.Fatal(err)
	}
	q := func(id, words string) SetQuestion {
		data, _ := json.Marshal(map[string]any{"id": id, "question": words, "draft": words == "draft"})
		return SetQuestion{id, data}
	}
	change := func(want int, put []SetQuestion, remove []string, whole bool) {
		t.Helper()
		if got, err := s.ChangeSet(t.Context(), c.ID, "first", put, remove, whole); err != nil || got != want {
			t.Fatalf("version %d, error %v; want %d", got, err, want)
		}
	}
	change(1, []SetQuestion{q("b", "one"), q("a", "two")}, nil, false)
	change(1, []SetQuestion{q("b", "one")}, nil, false) // as it was
	change(2, []SetQuestion{q("b", "changed"), q("c", "draft")}, []string{"a"}, false)
	change(3, []SetQuestion{q("d", "alone")}, nil, true)
	set, err := s.QuestionSet(t.Context(), c.ID, "first")
	if err != nil {
		t.Fatal(err)
	}
	if set.Version != 3 || set.Questions != 1 || set.Drafts != 0 {
		t.Errorf("the set is %+v", set)
	}
	for version, want := range map[int]string{1: "b one a two", 2: "b changed c draft", 3: "d alone", 0: "d alone"} {
		all, err := s.Questions(t.Context(), set.ID, version)
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, q := range all {
			var in struct{ Question string }
			if err := json.Unmarshal(q.Data, &in); err != nil {
				t.Fatal(err)
			}
			got = append(got, q.ID, in.Question)
		}
		if strings.Join(got, " ") != want {
			t.Errorf("version %d is %v, want %s", version, got, want)
		}
	}
	if err := s.RemoveQuestionSet(t.Context(), c.ID, "first"); err != nil {
		t.Fatal(err)
	}
	if _, err := s.QuestionSet(t.Context(), c.ID, "first"); !errors.Is(err, ErrNotFound) {
		t.Errorf("a set that was removed gives %v", err)
	}
}

func TestBenchItems(t *testing.T) {
	s := open(t, t.TempDir())
	c, err := s.CreateCollection(t.Context(), "garden", struct{}{})
	if err != nil {
		t.Fatal(err)
	}
	for name, value := range map[string]int{"a": 1, "b": 2} {
		if err := s.SetBenchItem(t.Context(), c.ID, "trial", name, value); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.SetBenchItem(t.Context(), c.ID, "trial", "a", 3); err != nil {
		t.Fatal(err)
	}
	var got int
	if err := s.BenchItem(t.Context(), c.ID, "trial", "a", &got); err != nil || got != 3 {
		t.Errorf("%d, error %v", got, err)
	}
	if err := errors.Join(s.RemoveBenchItem(t.Context(), c.ID, "trial", "b")); err != nil {
		t.Error(err)
	}
	if all, err := s.BenchItems(t.Context(), c.ID, "trial"); err != nil || len(all) != 1 {
		t.Errorf("%d are left, error %v", len(all), err)
	}
	if err := s.BenchItem(t.Context(), c.ID, "sweep", "a", &got); !errors.Is(err, ErrNotFound) {
		t.Errorf("one of another kind gives %v", err)
	}
}

func TestVerdictsAndReports(t *testing.T) {
	s := open(t, t.TempDir())
	c, err := s.CreateCollection(t.Context(), "garden", struct{}{})
	if err != nil {
		t.Fatal(err)
	}
	if err := s.AddMeasurement(t.Context(), "m", c.ID, []byte("{}"), []byte("{}")); err != nil {
		t.Fatal(err)
	}
	for _, says := range []string{"wrong", "right"} {
		if err := s.SetVerdict(t.Context(), "m", "q1", "ada", says); err != nil {
			t.Fatal(err)
		}
	}
	if all, err := s.Verdicts(t.Context(), "m"); err != nil || len(all) != 1 || string(all[0]) != `"right"` {
		t.Errorf("verdicts are %s, error %v", all, err)
	}
	if err := s.AddReport(t.Context(), c.ID, "Why?", "first"); err != nil {
		t.Fatal(err)
	}
	if err := s.AddReport(t.Context(), c.ID, "Why?", "second"); err != nil {
		t.Fatal(err)
	}
	if all, err := s.Reports(t.Context(), c.ID); err != nil || len(all) != 2 || string(all[0].Data) != `"second"` {
		t.Errorf("reports are %v, error %v", all, err)
	}
	if err := s.RemoveMeasurement(t.Context(), "m"); err != nil {
		t.Fatal(err)
	}
	if all, _ := s.Verdicts(t.Context(), "m"); len(all) != 0 {
		t.Errorf("verdicts outlive their measurement: %s", all)
	}
}
