package service

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"jardinet/cluster"
	"jardinet/ledger"
	"jardinet/shard"
	"jardinet/store"
)

// What is to be done once in a cluster is done by one host at a time, which holds a lease: it says
// which hosts have which shards, sees that everything that is to be done is in the queue, and has
// the ledger begin with a snapshot. None of it harms if two hosts do it.

// Kinds of tasks, each of which waits in a queue of its own.
const (
	intakeTask  = "intake"
	encodeTask  = "encode"
	MeasureTask = "measure"
)

// Duties, each of which one host has at a time.
const (
	clusterDuty  = "cluster"
	watchDuty    = "watch"
	SourcesDuty  = "sources"
	WebhooksDuty = "webhooks"
	BenchDuty    = "bench"
)

// How often what is done by one host is looked at, and how often the records are handed in whole.
const (
	dutiesEvery   = 2 * time.Second
	queueEvery    = 10 * time.Second
	snapshotEvery = time.Hour
	sweepEvery    = time.Hour
	// snapshotAfter is how many changes are in the ledger before they are let go of.
	snapshotAfter = 20_000
)

func (s *Service) runDuties(ctx context.Context) {
	s.Log.Info("this host sees to the cluster's duties")
	var queued time.Time
	snapshot, swept := time.Now(), time.Now()
	number := s.store.Number()
	for ctx.Err() == nil {
		err := s.place(ctx)
		if time.Since(queued) > queueEvery {
			queued = time.Now()
			err = errors.Join(err, s.queueAll(ctx))
		}
		if behind := s.store.Number() - number; behind > snapshotAfter || behind > 0 && time.Since(snapshot) > snapshotEvery {
			err = errors.Join(err, s.hosts.Compact(ctx))
			number, snapshot = s.store.Number(), time.Now()
		}
		if time.Since(swept) > sweepEvery {
			swept = time.Now()
			err = errors.Join(err, s.sweepFiles(ctx))
		}
		if err != nil && ctx.Err() == nil {
			s.Log.Warn("a duty of the cluster has to wait", "error", err)
		}
		select {
		case <-time.After(dutiesEvery):
		case <-ctx.Done():
		}
	}
}

// place says which hosts have which shards, if that is to change.
func (s *Service) place(ctx context.Context) error {
	shards, replicas := s.hosts.Terms()
	now, err := s.store.Placement(ctx)
	if err != nil {
		return err
	}
	var there []shard.Host
	for _, m := range s.hosts.Hosts() {
		if !m.Has(cluster.Answer) {
			continue
		}
		var about About
		if err := json.Unmarshal(m.About, &about); err != nil && len(m.About) > 0 {
			return fmt.Errorf("service: what %s says of itself: %w", m.Host, err)
		}
		there = append(there, shard.Host{Name: m.Host, Alive: m.Alive(), Gone: time.Since(m.Received) > movesAfter, Has: about.Shards})
	}
	next := shard.Place(now, there, shards, replicas)
	if maps.EqualFunc(now, next, slices.Equal) {
		return nil
	}
	s.Log.Info("shards are placed", "hosts", next)
	return s.store.Place(ctx, next)
}

// movesAfter is how long a host may be away before its shards are given to others: starting it anew
// should not move anything.
const movesAfter = 60 * time.Second

// queueAll puts everything into the queue that is to be done and may not be there, since a host was
// stopped between recording it and queueing it.
func (s *Service) queueAll(ctx context.Context) error {
	docs, err := s.store.Unfinished(ctx)
	if err != nil {
		return err
	}
	for _, d := range docs {
		if d.State == store.Indexing || s.intake.isPaused(d.Collection) {
			continue
		}
		if err := s.hosts.Ledger().Enqueue(ctx, intakeTask, d.ID); err != nil {
			return err
		}
	}
	unencoded, err := s.store.Unencoded(ctx, mostQueued)
	if err != nil {
		return err
	}
	undigested, err := s.store.Undigested(ctx, digestVersion, mostQueued)
	if err != nil {
		return err
	}
	for _, d := range append(unencoded, undigested...) {
		if err := s.hosts.Ledger().Enqueue(ctx, encodeTask, d.ID); err != nil {
			return err
		}
	}
	return nil
}

// sweepFiles removes the files that nothing needs any more and that could not be removed when they
// were last needed. Those of the last hour stay: what they belong to may not be recorded yet.
func (s *Service) sweepFiles(ctx context.Context) error {
	l := s.hosts.Ledger()
	all, err := l.Files(ctx)
	if err != nil {
		return err
	}
	needed, err := s.neededFiles(ctx)
	if err != nil {
		return err
	}
	first, now, err := l.Span(ctx)
	if err != nil {
		return err
	}
	for _, f := range all {
		old := now.Sub(f.Made) > sweepEvery
		if strings.HasPrefix(f.Name, ledger.Change) {
			old = f.Made.Before(first.Add(-sweepEvery))
		}
		if !old || needed[f.Name] {
			continue
		}
		if err := l.Remove(ctx, f.Name); err != nil {
			return err
		}
	}
	return nil
}

// neededFiles returns the names of the files that the records need.
func (s *Service) neededFiles(ctx context.Context) (map[string]bool, error) {
	needed := map[string]bool{}
	sums, err := s.store.Sums(ctx)
	if err != nil {
		return nil, err
	}
	for _, sum := range sums {
		needed[ledger.Original+sum], needed[ledger.Unlocked+sum] = true, true
	}
	segments, err := s.hosts.replicas.Needed(ctx)
	if err != nil {
		return nil, err
	}
	for _, name := range segments {
		needed[name] = true
	}
	latest, err := s.hosts.Ledger().Latest(ctx)
	if err != nil {
		return nil, err
	}
	if latest != nil {
		needed[ledger.Records+latest.Sum] = true
	}
	return needed, nil
}

// mostQueued is how many documents are put into the queue at a time.
const mostQueued = 200

// mostTries is how often a document is begun before it is given up.
const mostTries = 5

// takeTask reads one document that any host was to read.
func (s *Service) takeTask(ctx context.Context, task ledger.Task) error {
	d, err := s.store.Document(ctx, task.ID)
	if errors.Is(err, ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	if d.State != store.Queued && d.State != store.Reading || s.intake.isPaused(d.Collection) {
		return nil // done meanwhile, or it is put into the queue when it may go on
	}
	if task.Try > mostTries {
		s.fail(ctx, *d, fmt.Errorf("%w: it was begun %d times, on one host after another, and not ended; try it with \"jardinet reread\", or add another copy of the file", errGivenUp, mostTries))
		return nil
	}
	j := s.begun(d)
	defer s.intake.forget(d.ID)
	reading, cancel := context.WithCancel(ctx)
	defer cancel()
	defer context.AfterFunc(j.ctx, cancel)()
	_, err = s.readPages(reading, d, j)
	switch {
	case err == nil || reading.Err() != nil && ctx.Err() == nil: // removed
		s.hosts.replicas.Wake()
		return nil
	case ctx.Err() != nil:
		return ctx.Err()
	case IsFull(err) || IsCutOff(err) || errors.Is(err, ledger.ErrNoObject):
		s.Log.Warn("a document is left to another host, or to later", "document", d.Name, "error", err)
		return err
	}
	s.fail(ctx, *d, err)
	return nil
}

// errGivenUp says that a document was tried often enough.
var errGivenUp = errors.New("it is given up")

// encodeTask makes the vectors of a document's passages, and its digest.
func (s *Service) encodeTask(ctx context.Context, task ledger.Task) error {
	d, err := s.store.Document(ctx, task.ID)
	if errors.Is(err, ErrNotFound) || err == nil && d.State != store.Ready {
		return nil
	}
	if err != nil {
		return err
	}
	if d.Encoded < d.Passages {
		if _, err := s.encodeDocument(ctx, d); err != nil {
			return err
		}
		return s.store.RenewEncoded(ctx, d.ID)
	}
	if _, err := s.store.Digest(ctx, d.ID, digestVersion); !errors.Is(err, ErrNotFound) {
		return err
	}
	_, err = s.makeDigest(ctx, d)
	return err
}

// About is what a host tells the others of itself.
type About struct {
	Shards  []int `json:"shards"`  // that it has, up to date
	Free    int64 `json:"free"`    // bytes on its disk
	Jobs    int   `json:"jobs"`    // documents that it reads
	Asked   int   `json:"asked"`   // questions under way
	Fetches int   `json:"fetches"` // shards that it has yet to fetch
}

// about describes this host.
func (s *Service) about() json.RawMessage {
	var out About
	var err error
	if out.Shards, out.Fetches, err = s.hosts.replicas.State(context.Background()); err != nil {
		return nil
	}
	if free, err := s.store.Free(); err == nil {
		out.Free = free
	}
	if s.intake != nil {
		out.Jobs = s.intake.under()
	}
	if s.encoding != nil {
		out.Asked = s.encoding.asking.count()
	}
	data, err := json.Marshal(out)
	if err != nil {
		return nil
	}
	return data
}
