package answer

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// quoted makes a lesson of words that stand in a document of the test's garden.
func quoted(t *testing.T, a *Asker, question, key, quote string, after ...string) Lesson {
	t.Helper()
	at, err := Locate(a.Index, key, []Quotation{{Text: quote}})
	if err != nil || len(at[0]) == 0 {
		t.Fatalf("%q is at %v, error %v", quote, at, err)
	}
	return Lesson{Question: question, After: after, At: at[0]}
}

// learn teaches an asker.
func learn(t *testing.T, a *Asker, lessons ...Lesson) *Lessons {
	t.Helper()
	out, err := a.Learn(lessons)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func TestLocate(t *testing.T) {
	a := asker(t)
	for _, test := range []struct {
		key  string
		page int
		text string
		want int // of places
		at   Place
	}{
		{"vault.pdf", 0, "no longer than four hours", 1, Place{"vault.pdf", 0, 0}},
		{"vault.pdf", 1, "no longer than four hours", 1, Place{"vault.pdf", 0, 0}},
		{"vault.pdf", 2, "no longer than four hours", 0, Place{}},
		{"house.pdf", 0, "Dew House 15 to 19", 1, Place{"house.pdf", 0, 1}},              // a row, copied without its names
		{"house.pdf", 0, "House · Day", 3, Place{"house.pdf", 0, 0}},                     // stands in each row
		{"vault.pdf", 0, "The keeper is Dr Ilse Brandvold", 1, Place{"vault.pdf", 2, 0}}, // most of its words
		{"vault.pdf", 0, "what nobody has written", 0, Place{}},
		{"none.pdf", 0, "no longer than four hours", 0, Place{}},
	} {
		got, err := Locate(a.Index, test.key, []Quotation{{test.page, test.text}})
		if err != nil || len(got[0]) != test.want || test.want > 0 && got[0][0] != test.at {
			t.Errorf("%q on page %d of %s is at %v, error %v", test.text, test.page, test.key, got, err)
		}
	}
}

func TestLessonsAnswerQuestionsLikeThem(t *testing.T) {
	a := asker(t)
	const question = "Who is the boss of the frozen grains?"
	if got := ask(t, a, question); got.State != NotFound {
		t.Fatalf("without a lesson it is answered: %s", got.Text)
	}
	a.Lessons = learn(t, a,
		quoted(t, a, "Who is the boss of the frozen grains in the bunker?", "vault.pdf", "answerable for every accession"),
		quoted(t, a, "May I bring the hound?", "house.pdf", "Dogs are allowed"),
	)
	a.Trace = true
	got := ask(t, a, question)
	if got.State == NotFound || !strings.Contains(got.Text, "Brandvold") || got.Citations[0].Page != 3 {
		t.Errorf("with a lesson: %s, confidence %.2f", got.Text, got.Confidence)
	}
	if len(got.Trace.Lessons) == 0 || !strings.HasPrefix(got.Trace.Lessons[0].Question, "Who is the boss") || got.Trace.Lessons[0].Likely < 0.1 {
		t.Errorf("the trace tells of %+v", got.Trace.Lessons)
	}
	if other := ask(t, a, "Which rocket flies to the moon?"); other.State != NotFound {
		t.Errorf("what no lesson is like is answered: %s", other.Text)
	}
}

// TestLessonsStayWithinWhatMayBeRead asks where the lesson's document is out of bounds.
func TestLessonsStayWithinWhatMayBeRead(t *testing.T) {
	a := asker(t)
	a.Lessons = learn(t, a, quoted(t, a, "Who is the boss of the frozen grains?", "vault.pdf", "answerable for every accession"))
	a.Only = func(key string) bool { return key != "vault.pdf" }
	if got := ask(t, a, "Who is the boss of the frozen grains?"); strings.Contains(got.Text, "Brandvold") || len(got.Nearest) > 0 && got.Nearest[0].Document == "vault.pdf" {
		t.Errorf("out of bounds it says %s, beside %+v", got.Text, got.Nearest)
	}
	a.Lessons = learn(t, a, quoted(t, a, "Are dogs allowed on the lawn?", "vault.pdf", "answerable for every accession"))
	if got := ask(t, a, "Are dogs allowed on the lawn?"); got.Short != "Yes" || got.Taught {
		t.Errorf("a lesson out of bounds takes an answer away: %s", got.Text)
	}
}

func TestLessonsCanBeLeftOut(t *testing.T) {
	a := asker(t)
	all := learn(t, a,
		quoted(t, a, "Who is the boss?", "vault.pdf", "answerable for every accession"),
		quoted(t, a, "And when?", "house.pdf", "Dogs are allowed", "Where do horses go?"),
		Lesson{Question: "?!"}, // nothing to be like
	)
	if len(all.all) != 2 {
		t.Errorf("%d lessons are kept", len(all.all))
	}
	left := all.Without(func(l Lesson) bool { return l.Question == "Who is the boss?" })
	if len(left.all) != 1 || len(all.all) != 2 || !strings.Contains(left.all[0].text, "horses") {
		t.Errorf("left is %+v", left.all)
	}
	if (*Lessons)(nil).Without(nil) != nil {
		t.Error("no lessons without some are not none")
	}
}

// TestLikeness compares one question with lessons that are less and less like it.
func TestLikeness(t *testing.T) {
	a := asker(t)
	lesson := func(question string) learnt {
		return learn(t, a, quoted(t, a, question, "vault.pdf", "no longer than four hours")).all[0]
	}
	compare := func(question string, l learnt) Likeness {
		q := a.analyse(question, nil)
		asked := a.Wording.Ask(question, "en", &q.query, a.Index.Languages())
		a.Index.Prepare(&q.query)
		asked.Ready()
		got, _ := l.likenessTo(q, newMatcher(q, asked), wordSet(question), properNames(question, "en"), asked.Readers()[0])
		return got
	}
	const question = "Which seed may stay out of the store?"
	same := compare(question, lesson(question))
	if same.Asked < 0.99 || same.Lesson < 0.99 || same.Exact < 0.99 || same.Kind != 1 || same.Unnamed != 0 || same.Opposed != 0 || same.Gap > 0.01 || same.Spare > 0.01 {
		t.Errorf("to itself it is %+v", same)
	}
	if in := compare("Which seed may stay in the store?", lesson(question)); in.Opposed != 1 {
		t.Errorf("stay out and stay in: %+v", in)
	}
	if code := compare("What does code E2 mean?", lesson("What does code E5 mean?")); code.Unnamed != 1 {
		t.Errorf("another code: %+v", code)
	}
	if year := compare("What happened in 2023?", lesson("What happened in 2024?")); year.Unnamed != 1 {
		t.Errorf("another year: %+v", year)
	}
	if kind := compare("How heavy is the store?", lesson("How long is the store?")); kind.Kind != 0 {
		t.Errorf("another dimension: %+v", kind)
	}
	if len(same.Vector()) != len(LikenessNames) {
		t.Errorf("%d numbers have %d names", len(same.Vector()), len(LikenessNames))
	}
}

// recalled asks what some lessons say of a question.
func recalled(t *testing.T, a *Asker, question string, lessons ...Lesson) *recollection {
	t.Helper()
	q := a.analyse(question, nil)
	asked := a.Wording.Ask(q.standalone, "en", &q.query, a.Index.Languages())
	a.Index.Prepare(&q.query)
	asked.Ready()
	return learn(t, a, lessons...).recall(q, newMatcher(q, asked), nil)
}

// TestALessonsPlaceHoldsWhatIsAskedFor has questions of the words of a lesson whose place
// has no figure, or another number.
func TestALessonsPlaceHoldsWhatIsAskedFor(t *testing.T) {
	a := asker(t)
	likeness := func(question, lesson, document, quote string) Likeness {
		got := recalled(t, a, question, quoted(t, a, lesson, document, quote)).likest
		if len(got) == 0 {
			t.Fatalf("%q does not recall %q", question, lesson)
		}
		return got[0].Likeness
	}
	for _, test := range []struct {
		question, lesson, document, quote string
		unfit, misnumber                  float64
	}{
		{"How long may seed stay outside the freezer?", "May seed stay outside the freezer?", "vault.pdf", "no longer than four hours", 0, 0},
		{"How long may dogs stay?", "May dogs stay?", "house.pdf", "Dogs are allowed", 1, 0},
		{"May dogs stay in 2019?", "May dogs stay?", "house.pdf", "Dogs are allowed", 0, 1},
	} {
		got := likeness(test.question, test.lesson, test.document, test.quote)
		if got.Unfit != test.unfit || got.Misnumber != test.misnumber {
			t.Errorf("%s, %q: unfit %.0f, misnumbered %.0f", test.question, test.quote, got.Unfit, got.Misnumber)
		}
	}
}

// TestTheLikestLessonIsRecalledFirst has lessons of three places.
func TestTheLikestLessonIsRecalledFirst(t *testing.T) {
	a := asker(t)
	got := recalled(t, a, "Which grain may lie outside the freezer, and how long?",
		quoted(t, a, "Who is the boss of the freezer?", "vault.pdf", "answerable for every accession"),
		quoted(t, a, "May I bring the hound?", "house.pdf", "Dogs are allowed"),
		quoted(t, a, "How long may grain be outside the freezer?", "vault.pdf", "no longer than four hours"),
	)
	if len(got.likest) != 2 || !strings.HasPrefix(got.likest[0].Question, "How long may grain") || got.likest[0].Likely <= got.likest[1].Likely {
		t.Fatalf("recalled are %+v", got.likest)
	}
	first, second := got.likest[0].Likeness, got.likest[1].Likeness
	if first.Ahead <= 0 || first.Lead <= 0 || second.Ahead >= 0 || second.Lead >= 0 || first.Ahead > mostAhead {
		t.Errorf("the first leads by %+v, the second by %+v", first, second)
	}
	if first.Whole < first.United || first.Whole < first.Stated || first.United < first.Asked {
		t.Errorf("the place has less than its lesson or its words: %+v", first)
	}
}

// TestLessonsOfAPlaceCompleteEachOther has two lessons that each have half of the
// question's words.
func TestLessonsOfAPlaceCompleteEachOther(t *testing.T) {
	a := asker(t)
	one := quoted(t, a, "How long may grain be out?", "vault.pdf", "no longer than four hours")
	two := one
	two.Question = "What about the freezer?"
	got := recalled(t, a, "May grain leave the freezer?", one, two)
	for _, r := range got.likest {
		if r.Likeness.United <= r.Likeness.Asked {
			t.Errorf("%q: all have %.2f, it has %.2f", r.Question, r.Likeness.United, r.Likeness.Asked)
		}
	}
}

func TestRace(t *testing.T) {
	x, y := Place{"x", 0, 0}, Place{"y", 0, 0}
	for _, order := range [][]float64{{3, 5, 4}, {5, 3, 4}, {4, 5, 3}} {
		var r race
		r.enter(y, 2)
		for _, has := range order {
			r.enter(x, has)
		}
		if r.ahead(x, 5) != mostAhead || r.ahead(x, 2.1) > 0.11 || r.ahead(y, 2) != -3 {
			t.Errorf("%v: x is ahead by %g, y by %g", order, r.ahead(x, 5), r.ahead(y, 2))
		}
	}
}

func TestWhatIsRecalled(t *testing.T) {
	at := Place{"a", 1, 0}
	r := &recollection{
		likest: []Recalled{{Lesson: Lesson{At: []Place{at}}, Likely: 0.5}, {Likely: 0.3}, {Likely: leastHeeded / 2}},
		told:   map[Place]marks{at: {exact: 5}}, taught: map[Place]float64{at: 0.5},
	}
	if told, taught := r.of(at); told.exact != 5 || taught != 0.5 {
		t.Errorf("of the place it says %v and %.2f", told, taught)
	}
	if told, taught := (*recollection)(nil).of(at); told.any() != 0 || taught != 0 {
		t.Error("without lessons something is said of a place")
	}
	if n := len(r.heeded()); n != 2 {
		t.Errorf("%d have a say", n)
	}
}

// TestTwoLessonsSayMoreThanOne has one question told of a place by two lessons.
func TestTwoLessonsSayMoreThanOne(t *testing.T) {
	a := asker(t)
	l := quoted(t, a, "Who is the boss of the frozen grains?", "vault.pdf", "answerable for every accession")
	second := l
	second.Question = "Who is the chief of the frozen grains?"
	likely := func(lessons ...Lesson) float64 {
		return recalled(t, a, "Who is the master of frozen grains?", lessons...).taught[l.At[0]]
	}
	if one, both := likely(l), likely(l, second); one <= 0 || both <= one || both > 1 {
		t.Errorf("one says %.3f, both %.3f", one, both)
	}
}

// TestSureAnswersStand has lessons for a question that is answered surely without them:
// a wrong one in other words, and the very question.
func TestSureAnswersStand(t *testing.T) {
	a := asker(t)
	for _, test := range []struct{ question, lesson, key, quote string }{
		{"What is the night minimum of the Palm House?", "The night minimum of the Palm House is what?", "house.pdf", "Dew House · Day"},
		{"May I open the door when the alarm rings?", "When the alarm rings, may I open the door?", "vault.pdf", "Read the panel"},
	} {
		a.Lessons = nil
		untaught := ask(t, a, test.question)
		if untaught.State == NotFound || untaught.Taught {
			t.Fatalf("without lessons: %+v", untaught)
		}
		a.Lessons = learn(t, a, quoted(t, a, test.lesson, test.key, test.quote))
		if got := ask(t, a, test.question); got.Taught || got.Text != untaught.Text || got.Confidence != untaught.Confidence || len(got.Citations) != len(untaught.Citations) {
			t.Errorf("with a wrong lesson: %s, confidence %.3f after %.3f", got.Text, got.Confidence, untaught.Confidence)
		}
		a.Lessons = learn(t, a, quoted(t, a, test.question, test.key, test.quote))
		if got := ask(t, a, test.question); !got.Taught || got.Confidence != 1 || !strings.Contains(got.Citations[0].Quote, test.quote) {
			t.Errorf("the very question, shown elsewhere: %s, confidence %.3f", got.Text, got.Confidence)
		}
	}
}

func TestOdds(t *testing.T) {
	for p, want := range map[float64]float64{0: 0, 0.001: 0, 0.01: 0, 0.5: 0.5, 0.99: 1, 1: 1} {
		if got := odds(p); math.Abs(got-want) > 1e-9 {
			t.Errorf("odds(%g) = %g, want %g", p, got, want)
		}
	}
	if low, high := odds(0.2), odds(0.8); low >= 0.5 || math.Abs(low+high-1) > 1e-9 {
		t.Errorf("at .2 it is %g, at .8 %g", low, high)
	}
}

// TestTheMostAlikeAreCompared has more lessons than are compared.
func TestTheMostAlikeAreCompared(t *testing.T) {
	a := asker(t)
	lessons := []Lesson{quoted(t, a, "Who is the boss of the frozen grains?", "vault.pdf", "answerable for every accession")}
	for i := range mostCompared + 50 {
		other := quoted(t, a, fmt.Sprintf("Who is person %d?", i), "house.pdf", "Dogs are allowed")
		lessons = append(lessons, other)
	}
	got := recalled(t, a, "Who is the boss of all the frozen grains?", lessons...)
	if first := got.likest[0]; first.Question != lessons[0].Question || first.Likely < 0.8 {
		t.Errorf("the first that is recalled is %+v", first)
	}
	got = recalled(t, a, "Which person is it?", lessons...)
	if len(got.likest) != mostRecalled {
		t.Errorf("%d are recalled", len(got.likest))
	}
}
