package service

import (
	"errors"
	"slices"
	"strings"
	"testing"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/measure"
)

// cards is a lesson on words of the seed vault manual.
func cards(question string) Lesson {
	return Lesson{Question: question, Evidence: []measure.Evidence{{Document: "seed-vault-manual.pdf", Page: 17, Quote: "Cards are kept for ever"}}}
}

func TestLessonsHoldAtOnceAndRestWithoutTheirDocument(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	create(t, s, "garden")
	const question = "At what age may I chuck little tickets?"
	taught, err := s.Teach(t.Context(), "garden", []Lesson{cards(question), cards("Do little tickets ever go?")})
	if err != nil || len(taught) != 2 || !strings.Contains(taught[0].Problem, "seed-vault-manual.pdf is not there") {
		t.Fatalf("before the document is there: %+v, error %v", taught, err)
	}
	add(t, s, "garden", "seed-vault-manual.pdf")
	settle(t, s, "garden")
	if all, err := s.Lessons(t.Context(), "garden"); err != nil || all[0].Problem != "" || all[1].Problem != "" {
		t.Errorf("with the document: %+v, error %v", all, err)
	}
	if a := ask(t, s, "garden", question); !strings.Contains(a.Text, "Cards are kept for ever") {
		t.Errorf("taught, it says %s, confidence %.2f", a.Text, a.Confidence)
	}
	s.Close()
	s = open(t, dir)
	if a := ask(t, s, "garden", question); !strings.Contains(a.Text, "Cards are kept for ever") {
		t.Errorf("after a restart it says %s", a.Text)
	}
	if _, err := s.Remove(t.Context(), "garden", "seed-vault-manual.pdf", false); err != nil {
		t.Fatal(err)
	}
	if a := ask(t, s, "garden", question); a.State != answer.NotFound {
		t.Errorf("without the document it says %s", a.Text)
	}
	if all, err := s.Lessons(t.Context(), "garden"); err != nil || all[0].Problem == "" {
		t.Errorf("without the document: %+v, error %v", all, err)
	}
}

func TestALessonHasToStandInItsDocument(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	add(t, s, "garden", "seed-vault-manual.pdf")
	settle(t, s, "garden")
	wrong := cards("Do cards go?")
	wrong.Evidence[0].Page = 3
	if _, err := s.Teach(t.Context(), "garden", []Lesson{wrong}); !errors.Is(err, ErrInvalid) || !strings.Contains(err.Error(), "does not stand on page 3") {
		t.Errorf("on another page: %v", err)
	}
	all, err := s.Teach(t.Context(), "garden", []Lesson{wrong, cards("Do tickets go?")})
	if err != nil || len(all) != 2 || all[0].Problem == "" || all[1].Problem != "" {
		t.Errorf("of two: %+v, error %v", all, err)
	}
}

func TestLessonsAreReplacedAndForgotten(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	first := cards("Do cards go?")
	again := cards("do CARDS go?")
	again.Evidence[0].Page = 18
	after := cards("Do cards go?")
	after.After = []string{"What is in the vault?"}
	all, err := s.Teach(t.Context(), "garden", []Lesson{first, again, after})
	if err != nil || len(all) != 2 || all[0].Evidence[0].Page != 18 || all[0].ID == all[1].ID {
		t.Fatalf("taught %+v, error %v", all, err)
	}
	if err := s.Forget(t.Context(), "garden", all[0].ID); err != nil {
		t.Fatal(err)
	}
	if err := s.Forget(t.Context(), "garden", all[0].ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("forgotten twice: %v", err)
	}
	if left, err := s.Lessons(t.Context(), "garden"); err != nil || len(left) != 1 || left[0].ID != all[1].ID {
		t.Errorf("left are %+v, error %v", left, err)
	}
}

func TestLessonThatMeansTheSameIsRefused(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	if _, err := s.Teach(t.Context(), "garden", []Lesson{cards("Where may my poodle run about?")}); err != nil {
		t.Fatal(err)
	}
	for _, batch := range [][]Lesson{
		{cards("where can my poodle run about")},
		{cards("Do cards go?"), cards("where can my poodle run about")},
	} {
		_, err := s.Teach(t.Context(), "garden", batch)
		if !errors.Is(err, ErrInvalid) || !strings.Contains(err.Error(), "means the same as \"Where may my poodle") {
			t.Errorf("%d lessons: error %v", len(batch), err)
		}
	}
	all, err := s.Teach(t.Context(), "garden", []Lesson{cards("Where may my poodle run about?"), cards("Do cards go?")})
	if err != nil || len(all) != 2 {
		t.Errorf("the same question again and another: %+v, error %v", all, err)
	}
}

func TestBadLessons(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	bare := cards("Do cards go?")
	bare.Evidence[0].Quote = " "
	for _, test := range []struct {
		lesson Lesson
		want   string
	}{
		{Lesson{Question: "Do cards go?"}, "no evidence"},
		{bare, "as quote"},
		{cards(" "), "empty"},
		{cards(strings.Repeat("x", MaxQuestion+1)), "limit"},
	} {
		_, err := s.Teach(t.Context(), "garden", []Lesson{cards("Fine?"), test.lesson})
		if !errors.Is(err, ErrInvalid) || !strings.Contains(err.Error(), test.want) || !strings.Contains(err.Error(), "lesson 2") {
			t.Errorf("%.40q: error %v, want one that says %q", test.lesson.Question, err, test.want)
		}
	}
	if _, err := s.Teach(t.Context(), "garden", slices.Repeat([]Lesson{{}}, 1)); !errors.Is(err, ErrInvalid) {
		t.Errorf("an empty lesson: %v", err)
	}
	if all, err := s.Lessons(t.Context(), "garden"); err != nil || len(all) != 0 {
		t.Errorf("kept are %+v, error %v", all, err)
	}
	if _, err := s.Teach(t.Context(), "none", nil); !errors.Is(err, ErrNotFound) {
		t.Errorf("in a collection that is not there: %v", err)
	}
}

func TestLessonsOfASet(t *testing.T) {
	no := false
	set := &measure.Set{Questions: []measure.Question{{ID: "a", Question: "A?", After: []string{"B?"}}, {ID: "b", Question: "C?", Answerable: &no}}}
	if got := api.LessonsOf(set); len(got) != 1 || got[0].Question != "A?" || len(got[0].After) != 1 {
		t.Errorf("lessons are %+v", got)
	}
}
