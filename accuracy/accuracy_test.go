package accuracy

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"testing"

	"jardinet/access"
	"jardinet/api"
	"jardinet/hooks"
	"jardinet/measure"
	"jardinet/passage"
	"jardinet/pdfium"
	"jardinet/service"
)

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	os.Exit(m.Run())
}

const garden = "garden"

// open opens a service with one document, and a bench on it.
func open(t *testing.T, webhooks map[string]string, documents ...string) (*service.Service, *Bench) {
	t.Helper()
	s, err := service.Open(t.Context(), service.Options{Data: t.TempDir(), Version: "test", Scripts: []string{"none"}})
	if err != nil {
		t.Fatal(err)
	}
	told := hooks.Open(s, hooks.Options{Addresses: webhooks})
	t.Cleanup(told.Close)
	b := Open(s, told)
	t.Cleanup(func() {
		b.Close()
		if err := s.Close(); err != nil {
			t.Error(err)
		}
	})
	if _, err := s.CreateCollection(t.Context(), garden, nil); err != nil {
		t.Fatal(err)
	}
	for _, name := range documents {
		add(t, s, name)
	}
	return s, b
}

func add(t *testing.T, s *service.Service, name string) {
	t.Helper()
	f, err := os.Open("../demo/documents/" + name)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	if _, err := s.Add(t.Context(), garden, name, f); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Settle(t.Context(), garden); err != nil {
		t.Fatal(err)
	}
}

const manual = "seed-vault-manual.pdf"

func keep(t *testing.T, b *Bench, name, lines string) {
	t.Helper()
	set, err := measure.ReadSet("q.jsonl", []byte(lines))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := b.Import(t.Context(), garden, name, set, true); err != nil {
		t.Fatal(err)
	}
}

const lines = `{"id":"a","question":"How long may seed stay out of the cold store?","accept":["four hours"],"evidence":[{"document":"seed-vault-manual.pdf","page":4,"quote":"four hours"}]}
{"id":"b","question":"Who keeps the tigers?","answerable":false}
{"id":"c","question":"How long is seed allowed to stay out of the cold store?","accept":["four hours"],"evidence":[{"document":"seed-vault-manual.pdf","page":4,"quote":"for ever and a day"}]}
{"id":"d","question":"Where is the old gate?","accept":["east"],"evidence":[{"document":"gone.pdf","page":4}],"draft":true}
`

func await(t *testing.T, b *Bench, j *api.Job, err error) *api.Job {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
	j, err = b.Wait(t.Context(), garden, j.ID)
	if err != nil {
		t.Fatal(err)
	}
	return j
}

func TestReview(t *testing.T) {
	_, b := open(t, nil, manual)
	keep(t, b, "first", lines)
	r, err := b.Review(t.Context(), garden, "first")
	if err != nil {
		t.Fatal(err)
	}
	if len(r.Stale) != 2 || r.Stale[0].Question != "c" || !strings.Contains(r.Stale[0].Problem, "no longer says it") || !strings.Contains(r.Stale[1].Problem, "has no page 4 now") {
		t.Errorf("stale evidence is %+v", r.Stale)
	}
	if len(r.Duplicates) != 1 || r.Duplicates[0].Question != "c" || r.Duplicates[0].Of != "a" {
		t.Errorf("duplicates are %+v", r.Duplicates)
	}
	touched := 0
	for _, c := range r.Coverage {
		if c.Questions > 0 {
			touched++
		}
	}
	if touched == 0 || touched == len(r.Coverage) {
		t.Errorf("%d of %d sections are touched", touched, len(r.Coverage))
	}
}

func TestDraftsDoNotCount(t *testing.T) {
	_, b := open(t, nil, manual)
	keep(t, b, "first", lines)
	set, err := b.Measurable(t.Context(), garden, "first", Part{})
	if err != nil || len(set.Questions) != 3 {
		t.Fatalf("%d questions count, error %v", len(set.Questions), err)
	}
	j, err := b.Draft(t.Context(), garden, "drafts", 5, []string{manual})
	if j = await(t, b, j, err); j.State != api.Done {
		t.Fatalf("%+v", j)
	}
	drafted, err := b.Set(t.Context(), garden, "drafts", Part{Drafts: true})
	if err != nil || len(drafted.All) != 5 {
		t.Fatalf("%d are drafted, error %v", len(drafted.All), err)
	}
	for _, q := range drafted.All {
		if !q.Draft || len(q.Accept) == 0 || q.Evidence[0].Document != manual || q.Evidence[0].Quote == "" {
			t.Errorf("drafted %+v", q)
		}
	}
	if _, err := b.Measurable(t.Context(), garden, "drafts", Part{}); !errors.Is(err, service.ErrInvalid) {
		t.Errorf("a set of drafts can be measured with: %v", err)
	}
}

func TestGather(t *testing.T) {
	s, b := open(t, nil, manual)
	if err := s.SetSharing(t.Context(), garden, api.Sharing{Questions: true}); err != nil {
		t.Fatal(err)
	}
	for _, q := range []string{"Who keeps the tigers?", "who keeps the tigers"} {
		if _, err := s.Ask(t.Context(), garden, api.Ask{Question: q}, service.Listener{}); err != nil {
			t.Fatal(err)
		}
	}
	if err := b.Report(t.Context(), garden, api.Report{Question: "How cold is it?", Says: "wrong", Comment: "It is colder."}); err != nil {
		t.Fatal(err)
	}
	set, err := b.Gather(t.Context(), garden, "asked", "reports")
	if err != nil || set.Questions != 2 || set.Drafts != 2 {
		t.Errorf("gathered %+v, error %v", set, err)
	}
	if again, err := b.Gather(t.Context(), garden, "asked", "reports"); err != nil || again.Version != set.Version {
		t.Errorf("gathered again: %+v, error %v", again, err)
	}
	if _, err := s.Ask(t.Context(), garden, api.Ask{Question: "How long may seed stay out of the cold store?", Conversation: "new"}, service.Listener{}); err != nil {
		t.Fatal(err)
	}
	if set, err = b.Gather(t.Context(), garden, "asked", "conversations"); err != nil || set.Questions != 3 {
		t.Errorf("with what was kept: %+v, error %v", set, err)
	}
}

func TestJobs(t *testing.T) {
	_, b := open(t, nil)
	started, release := make(chan bool), make(chan bool)
	first, err := b.jobs.start(t.Context(), garden, "measurement", "holding the queue", 2, func(ctx context.Context, j *job) (string, error) {
		close(started)
		j.progress(1, 2)
		select {
		case <-release:
			return "made", nil
		case <-ctx.Done():
			return "", ctx.Err()
		}
	})
	if err != nil {
		t.Fatal(err)
	}
	<-started
	fail := func(context.Context, *job) (string, error) { return "", errors.New("the dog ate it") }
	second, _ := b.jobs.start(t.Context(), garden, "draft", "failing", 1, fail)
	third, _ := b.jobs.start(t.Context(), garden, "draft", "never begun", 1, fail)
	if j, err := b.Cancel(t.Context(), garden, third.ID); err != nil || j.State != api.Cancelled {
		t.Errorf("cancelled: %+v, error %v", j, err)
	}
	if j := first.told(); j.State != api.Running || j.Done != 1 {
		t.Errorf("the first is %+v", j)
	}
	if second.told().State != api.Waiting {
		t.Error("two jobs run at a time")
	}
	close(release)
	if j := await(t, b, first.told(), nil); j.State != api.Done || j.Result != "made" || j.Done != 2 {
		t.Errorf("the first ends as %+v", j)
	}
	if j := await(t, b, second.told(), nil); j.State != api.Failed || j.Problem != "the dog ate it" {
		t.Errorf("the second ends as %+v", j)
	}
	if all := jobsOf(t, b); len(all) != 3 || all[0].What != "never begun" {
		t.Errorf("the jobs are %+v", all)
	}
	if _, err := b.Job(t.Context(), "other", first.ID); !errors.Is(err, service.ErrNotFound) {
		t.Errorf("another collection's job gives %v", err)
	}
}

// TestCancelMeasurement cancels one under way, of which nothing is kept.
func TestCancelMeasurement(t *testing.T) {
	_, b := open(t, nil, manual)
	var many strings.Builder
	for i := range 400 {
		q, _ := json.Marshal(measure.Question{ID: idOf("q", string(rune(i+0x4e00))), Question: "How long may seed stay out of the cold store, " + strings.Repeat("please ", i%7) + "?", Accept: []string{"four hours"}})
		many.Write(append(q, '\n'))
	}
	keep(t, b, "many", many.String())
	set, err := b.Measurable(t.Context(), garden, "many", Part{})
	if err != nil {
		t.Fatal(err)
	}
	j, err := b.Measure(t.Context(), garden, "", set)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := b.Cancel(t.Context(), garden, j.ID); err != nil {
		t.Fatal(err)
	}
	if j = await(t, b, j, nil); j.State != api.Cancelled {
		t.Errorf("it ends as %+v", j)
	}
	if all, err := b.Measurements(t.Context(), garden); err != nil || len(all) != 0 {
		t.Errorf("%d measurements are kept, error %v", len(all), err)
	}
}

// TestTrialsFollowTheDocuments makes a trial, changes the documents, and measures it anew, also
// after a new start.
func TestTrialsFollowTheDocuments(t *testing.T) {
	s, b := open(t, nil, manual)
	keep(t, b, "first", lines)
	setup := api.Setup{Recipe: api.Recipe{Passage: passage.Recipe{Target: 50}}}
	j, err := b.Try(t.Context(), garden, "short", setup)
	if j = await(t, b, j, err); j.State != api.Done {
		t.Fatalf("%+v", j)
	}
	made, err := b.Trial(t.Context(), garden, "short")
	if err != nil || !made.Ready || made.Outdated || made.Passages == 0 {
		t.Fatalf("%+v, error %v", made, err)
	}
	add(t, s, "staff-handbook.pdf")
	if made, _ = b.Trial(t.Context(), garden, "short"); !made.Outdated {
		t.Error("a new document leaves the trial as it was")
	}
	again := Open(s, nil)
	defer again.Close()
	set, err := again.Measurable(t.Context(), garden, "first", Part{})
	if err != nil {
		t.Fatal(err)
	}
	j, err = again.Measure(t.Context(), garden, "short", set)
	if err != nil {
		t.Fatal(err)
	}
	if j, err = again.Wait(t.Context(), garden, j.ID); err != nil || j.State != api.Done {
		t.Fatalf("%+v, error %v", j, err)
	}
	m, err := again.Measurement(t.Context(), j.Result, false)
	if err != nil || m.Subject.Setup != "short" || m.Subject.Documents != 2 || m.Subject.Passages <= made.Passages {
		t.Errorf("measured %+v, error %v", m.Subject, err)
	}
	if err := again.Drop(t.Context(), garden, "short"); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(again.trialDir(garden, "short")); !errors.Is(err, os.ErrNotExist) {
		t.Errorf("the index of a trial that was dropped: %v", err)
	}
}

func TestSweepChoosesHonestly(t *testing.T) {
	_, b := open(t, nil, manual)
	keep(t, b, "first", lines)
	j, err := b.Sweep(t.Context(), garden, api.SweepPlan{Set: "first", Targets: []int{50, 100}, Certain: []float64{0.3, 1}})
	if j = await(t, b, j, err); j.State != api.Done {
		t.Fatalf("%+v", j)
	}
	all, err := b.Sweeps(t.Context(), garden)
	if err != nil || len(all) != 1 || len(all[0].Tried) != 4 {
		t.Fatalf("%+v, error %v", all, err)
	}
	s := all[0]
	for i, tried := range s.Tried {
		if i > 0 && tried.Figure.Value > s.Tried[i-1].Figure.Value {
			t.Errorf("the best does not come first: %+v", s.Tried)
		}
		// A threshold of 1 refuses everything, which is right once in three.
		if tried.Setup.Certain == 1 && (tried.Figure.Value < 0.33 || tried.Figure.Value > 0.34) {
			t.Errorf("what refuses all has %.3f", tried.Figure.Value)
		}
	}
	if s.Honest.Questions != 3 || s.P < 0.05 {
		t.Errorf("three questions show %+v, p = %.3f", s.Honest, s.P)
	}
	for _, bad := range []api.SweepPlan{{Set: "none"}, {Set: "first", Minutes: -1}, {Set: "first", Certain: []float64{2}}, {Set: "first", Figure: "colour"}} {
		if _, err := b.Sweep(t.Context(), garden, bad); err == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
}

// TestLosersAreGivenUp has a set-up that is behind on every question.
func TestLosersAreGivenUp(t *testing.T) {
	records := func(right bool, n int) []measure.Record {
		out := make([]measure.Record, n)
		for i := range out {
			if out[i].Outcome = measure.Wrong; right {
				out[i].Outcome = measure.Right
			}
		}
		return out
	}
	s := sweeper{tried: []attempt{{records: records(true, 80)}}, best: 0}
	if !s.loses(records(false, 40)) {
		t.Error("what has all wrong is not given up")
	}
	if s.loses(records(true, 40)) {
		t.Error("what is as good is given up")
	}
}

// TestWatch adds a document after which a requirement is not met, and hears of it.
func TestWatch(t *testing.T) {
	heard := make(chan map[string]any, 1)
	hook := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		var said map[string]any
		if err := json.NewDecoder(r.Body).Decode(&said); err != nil {
			t.Error(err)
		}
		heard <- said
	}))
	defer hook.Close()
	_, b := open(t, map[string]string{"alarm": hook.URL}, manual)
	keep(t, b, "first", strings.ReplaceAll(lines, "four hours", "nine hours"))
	if err := b.SetWatch(t.Context(), garden, api.Watch{Set: "first", Require: []string{"as_they_should>=1"}, Webhook: "alarm"}); err != nil {
		t.Fatal(err)
	}
	if err := b.Recheck(t.Context(), garden); err != nil {
		t.Fatal(err)
	}
	said := <-heard
	data := said["data"].(map[string]any)
	if said["type"] != hooks.AccuracyDropped || data["collection"] != garden || !strings.Contains(data["alert"].(map[string]any)["reasons"].([]any)[0].(string), "as_they_should>=1") {
		t.Errorf("the webhook hears %v", said)
	}
	w, err := b.Watch(t.Context(), garden)
	if err != nil || len(w.Alerts) != 1 {
		t.Errorf("the alerts are %+v, error %v", w, err)
	}
	before := len(jobsOf(t, b))
	if err := b.Recheck(t.Context(), garden); err != nil || len(jobsOf(t, b)) != before {
		t.Errorf("what has not changed is measured again; error %v", err)
	}
}

// TestJudgesDoNotKnow judges two measurements mixed, and then compares the judges.
func TestJudgesDoNotKnow(t *testing.T) {
	_, b := open(t, nil, manual)
	keep(t, b, "first", lines)
	set, err := b.Measurable(t.Context(), garden, "first", Part{})
	if err != nil {
		t.Fatal(err)
	}
	var ids []string
	for range 2 {
		j, err := b.Measure(t.Context(), garden, "", set)
		ids = append(ids, await(t, b, j, err).Result)
	}
	for _, judge := range []string{"ada", "ben"} {
		ctx := access.With(t.Context(), &access.Caller{Name: judge, Administrator: true})
		for {
			next, err := b.Next(ctx, ids)
			if err != nil {
				t.Fatal(err)
			}
			if next == nil {
				break
			}
			says := measure.IsRight
			if judge == "ben" && next.Refused {
				says = measure.IsWrong
			}
			if err := b.Judge(ctx, ids, api.Judged{Ticket: next.Ticket, Says: says}); err != nil {
				t.Fatal(err)
			}
		}
	}
	told, err := b.Judging(t.Context(), ids[0])
	if err != nil || told.Judges["ada"] != 3 || told.Judges["ben"] != 3 || len(told.Agreements) != 1 {
		t.Fatalf("%+v, error %v", told, err)
	}
	judged, err := b.Measurement(t.Context(), ids[0], true)
	if err != nil || !judged.Judged {
		t.Fatalf("%+v, error %v", judged, err)
	}
	for _, r := range judged.Records {
		if refused := r.State == "not_found"; refused && r.Outcome == measure.Right || !refused && r.Outcome != measure.Right {
			t.Errorf("%s, on which %v, is %s", r.ID, told.Agreements, r.Outcome)
		}
	}
	stranger := access.With(t.Context(), &access.Caller{Name: "cleo"})
	if _, err := b.Next(stranger, ids); !errors.Is(err, service.ErrNotFound) {
		t.Errorf("a stranger is told %v", err)
	}
}

func jobsOf(t *testing.T, b *Bench) []api.Job {
	t.Helper()
	all, err := b.Jobs(t.Context(), garden)
	if err != nil {
		t.Fatal(err)
	}
	return all
}
