package service

import (
	"context"
	"encoding/json"
	"os"
	"slices"
	"time"

	"jardinet/api"
	"jardinet/cluster"
	"jardinet/index"
)

// Hosts describes the hosts that share their records, or this one if it is alone.
func (s *Service) Hosts(ctx context.Context) (*api.Hosts, error) {
	if s.hosts == nil {
		return s.alone()
	}
	shards, replicas := s.hosts.Terms()
	out := &api.Hosts{Here: s.hosts.Host, Cluster: s.hosts.ID(), Changes: s.store.Number(), Replicas: replicas, Hosts: []api.Host{}, Shards: []api.Shard{}}
	if err := s.MayAnswer(); err != nil {
		out.Problem = Reason(err)
	}
	for _, m := range s.hosts.Hosts() {
		out.Changes = max(out.Changes, m.Done)
	}
	// What NATS does not tell within a moment is left out: that it does not is what may be wrong.
	within, cancel := context.WithTimeout(ctx, tellsWithin)
	defer cancel()
	duties := map[string][]string{}
	for _, duty := range []string{clusterDuty, watchDuty, SourcesDuty, WebhooksDuty, BenchDuty} {
		if host, err := s.hosts.Ledger().Leader(within, duty); err == nil && host != "" {
			duties[host] = append(duties[host], duty)
		}
	}
	out.Queues = s.queues(within)
	for _, m := range s.hosts.Hosts() {
		out.Hosts = append(out.Hosts, describeHost(&m, out.Changes, duties[m.Host]))
	}
	return out, s.describeShards(ctx, out, shards)
}

// tellsWithin is how long NATS is waited for when the hosts are described.
const tellsWithin = time.Second

// alone describes a host that shares nothing.
func (s *Service) alone() (*api.Hosts, error) {
	name, err := os.Hostname()
	if err != nil {
		name = "this host"
	}
	free, err := s.store.Free()
	if err != nil {
		return nil, err
	}
	roles := []string{string(cluster.Answer), string(cluster.Intake), string(cluster.Encode)}
	return &api.Hosts{Here: name, Alone: true, Replicas: 1, Shards: []api.Shard{}, Queues: []api.Queue{}, Hosts: []api.Host{{
		Name: name, Roles: roles, Version: s.Version, State: api.HostAnswers, Shards: []int{}, Free: free, Reading: s.intake.under(), Asked: s.encoding.asking.count(), Duties: []string{},
	}}}, nil
}

// A Standing is how one of several hosts stands, as it knows without asking.
type Standing struct {
	MayAnswer       bool
	Alive, Fetching int
	Changes, Behind uint64
}

// Standing returns how this host stands among the others.
func (s *Service) Standing() *Standing {
	out := &Standing{MayAnswer: s.MayAnswer() == nil, Changes: s.store.Number()}
	for _, m := range s.hosts.Hosts() {
		if m.Alive() {
			out.Alive++
		}
		if m.Done > out.Changes {
			out.Behind = max(out.Behind, m.Done-out.Changes)
		}
		var about About
		if m.Host == s.hosts.Host && json.Unmarshal(m.About, &about) == nil {
			out.Fetching = about.Fetches
		}
	}
	return out
}

func (s *Service) queues(ctx context.Context) []api.Queue {
	out := []api.Queue{}
	for _, kind := range []string{intakeTask, encodeTask, MeasureTask} {
		if n, err := s.hosts.Ledger().Waiting(ctx, kind); err == nil {
			out = append(out, api.Queue{Kind: kind, Waiting: n})
		}
	}
	return out
}

func describeHost(m *cluster.Member, changes uint64, duties []string) api.Host {
	var about About
	if len(m.About) > 0 {
		_ = json.Unmarshal(m.About, &about) // of another version of the program, perhaps
	}
	out := api.Host{
		Name: m.Host, Address: m.Address, Roles: []string{}, Version: m.Version, State: api.HostAnswers, Problem: m.Problem, Behind: changes - min(m.Done, changes),
		Silent: time.Since(m.Received).Round(100 * time.Millisecond).Seconds(), Clock: m.Skew.Round(100 * time.Millisecond).Seconds(),
		Shards: about.Shards, Fetching: about.Fetches, Free: about.Free, Reading: about.Jobs, Asked: about.Asked, Duties: duties,
	}
	for _, r := range m.Roles {
		out.Roles = append(out.Roles, string(r))
	}
	if out.Shards == nil {
		out.Shards = []int{}
	}
	if out.Duties == nil {
		out.Duties = []string{}
	}
	switch {
	case m.Leaving:
		out.State = api.HostStopped
	case !m.MayAnswer():
		out.State = api.HostSilent
	case m.Problem != "":
		out.State = api.HostBehind
	}
	return out
}

// describeShards tells where the shards are.
func (s *Service) describeShards(ctx context.Context, out *api.Hosts, n int) error {
	placed, err := s.store.Placement(ctx)
	if err != nil {
		return err
	}
	all, err := s.store.Shards(ctx, "")
	if err != nil {
		return err
	}
	passages := make([]int, n)
	for _, one := range all {
		var totals index.Totals
		if err := json.Unmarshal(one.Totals, &totals); err == nil && one.Shard < n {
			passages[one.Shard] += totals.Passages
		}
	}
	for k := range n {
		sh := api.Shard{Shard: k, Hosts: placed[k], UpToDate: []string{}, Passages: passages[k]}
		if sh.Hosts == nil {
			sh.Hosts = []string{}
		}
		for _, h := range out.Hosts {
			if slices.Contains(h.Shards, k) && h.State == api.HostAnswers {
				sh.UpToDate = append(sh.UpToDate, h.Name)
			}
		}
		out.Shards = append(out.Shards, sh)
	}
	return nil
}
