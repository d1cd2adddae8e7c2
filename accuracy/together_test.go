package accuracy

import (
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
}
