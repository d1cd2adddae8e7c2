package accuracy

import (
	"context"
	"errors"
	"strings"
	"testing"

	"jardinet/api"
	"jardinet/cluster"
	"jardinet/hooks"
	"jardinet/natsserver"
	"jardinet/service"
)

// host starts one of several hosts with a bench.
func host(t *testing.T, url, name string, roles ...cluster.Role) (*service.Service, *Bench) {
	t.Helper()
	s, err := service.Open(t.Context(), service.Options{Data: t.TempDir(), Version: "test", Scripts: []string{"none"}, Cluster: &cluster.Options{
		URL: url, Host: name, Roles: roles, Copies: 1, Shards: 2, Replicas: 1, Version: "test",
	}})
	if err != nil {
		t.Fatal(err)
	}
	told := hooks.Open(s, hooks.Options{})
	b := Open(s, told)
	t.Cleanup(func() { b.Close(); told.Close(); s.Close() })
	return s, b
}

// TestMeasuredElsewhere has a host that answers nothing itself asked to measure, and another one do it.
func TestMeasuredElsewhere(t *testing.T) {
	server, err := natsserver.Start(natsserver.Options{Name: "only", Dir: t.TempDir(), Listen: "127.0.0.1:0"})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(server.Stop)
	s, asked := host(t, server.URL(), "reads", cluster.Intake, cluster.Encode)
	_, does := host(t, server.URL(), "answers", cluster.Answer)
	if _, err := s.CreateCollection(t.Context(), garden, nil); err != nil {
		t.Fatal(err)
	}
	add(t, s, manual)
	keep(t, asked, "everyday", lines)
	if err := s.Done(t.Context()); err != nil {
		t.Fatal(err)
	}
	set, err := asked.Measurable(t.Context(), garden, "everyday", Part{})
	if err != nil {
		t.Fatal(err)
	}
	j, err := asked.Measure(t.Context(), garden, "", set)
	j = await(t, asked, j, err)
	if j.State != api.Done || j.Result == "" {
		t.Fatalf("the job is %+v", j)
	}
	if err := s.Done(t.Context()); err != nil { // what is seen here holds there too
		t.Fatal(err)
	}
	m, err := does.Measurement(t.Context(), j.Result, false)
	if err != nil || m.ID != j.ID || len(m.Records) != 3 {
		t.Errorf("the other host has the measurement %+v, error %v", m, err)
	}
	seen, err := does.Job(t.Context(), garden, j.ID)
	if err != nil || seen.State != api.Done || seen.Result != j.Result {
		t.Errorf("the other host tells of the job %+v, error %v", seen, err)
	}
	if all, err := does.Jobs(t.Context(), garden); err != nil || len(all) != 1 {
		t.Errorf("the other host tells of %+v, error %v", all, err)
	}
	triedElsewhere(t, s, asked, does)
	calledOffElsewhere(t, s, asked, does)
}

// triedElsewhere has one host asked for a trial, and another one follow it and answer with it.
func triedElsewhere(t *testing.T, s *service.Service, asked, other *Bench) {
	live, err := s.Setup(t.Context(), garden)
	if err != nil {
		t.Fatal(err)
	}
	longer := *live
	longer.Recipe.Passage.Target = 180
	j, err := asked.Try(t.Context(), garden, "longer", longer)
	if err == nil {
		err = s.Done(t.Context())
	}
	if j = await(t, other, j, err); j.State != api.Done || j.Result != "longer" {
		t.Fatalf("seen elsewhere a trial ends as %+v", j)
	}
	a, err := other.AskTrial(t.Context(), garden, "longer", api.Ask{Question: "What is the temperature of the vault?"})
	if err != nil || len(a.Passages) == 0 {
		t.Errorf("the other host answers with the trial %+v, error %v", a, err)
	}
}

// calledOffElsewhere has another host call off a job, and tell of one whose host has stopped.
func calledOffElsewhere(t *testing.T, s *service.Service, asked, other *Bench) {
	begun := make(chan struct{})
	j, err := asked.start(t.Context(), garden, "draft", "waiting to be called off", 1, func(ctx context.Context, _ *job) (string, error) {
		close(begun)
		<-ctx.Done()
		return "", ctx.Err()
	})
	if err != nil {
		t.Fatal(err)
	}
	<-begun
	if err := s.Done(t.Context()); err != nil {
		t.Fatal(err)
	}
	if _, err := other.Cancel(t.Context(), garden, j.ID); err != nil {
		t.Fatal(err)
	}
	if ended := await(t, other, j.told(), nil); ended.State != api.Cancelled {
		t.Errorf("called off elsewhere a job is %+v", ended)
	}

	id, err := s.CollectionID(garden)
	if err != nil {
		t.Fatal(err)
	}
	lost := handed{Job: api.Job{ID: "lost", Collection: garden, State: api.Running}, Host: "gone"}
	own := handed{Job: api.Job{ID: "own", Collection: garden, State: api.Running}, Host: s.Host()}
	for _, h := range []handed{lost, own} {
		if err := s.Store().SetBenchItem(t.Context(), id, jobKind, h.ID, h); err != nil {
			t.Fatal(err)
		}
	}
	if err := errors.Join(asked.giveUpOld(t.Context()), s.Done(t.Context())); err != nil { // as it does when it starts
		t.Fatal(err)
	}
	for _, h := range []handed{lost, own} {
		if seen := await(t, other, &h.Job, nil); seen.State != api.Failed || !strings.Contains(seen.Problem, "the host "+h.Host) {
			t.Errorf("a job whose host has stopped is %+v", seen)
		}
	}
}
