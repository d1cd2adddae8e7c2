package service

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"jardinet/cluster"
	"jardinet/index"
	"jardinet/ledger"
	"jardinet/replica"
	"jardinet/store"
)

// A service may be one of several hosts with the same records (package cluster). What differs from
// one alone is in the files hosts.go, shards.go and duties.go: what other hosts changed is noticed
// here, the index lies in shards on several hosts (package replica), documents are read by whichever host takes them
// from the queue, and what is to be done once is done by one host at a time.

// hosts is what a service has as one of several.
type hosts struct {
	*cluster.Cluster
	stop     context.CancelFunc
	done     sync.WaitGroup
	replicas *replica.Replicas
	aside    aside
}

// IsTogether tells whether the service is one of several hosts.
func (s *Service) IsTogether() bool { return s.hosts != nil }

// Host returns the name of this host among several.
func (s *Service) Host() string { return s.hosts.Host }

// IsThere tells whether one of several hosts gives signs of life.
func (s *Service) IsThere(host string) bool {
	return slices.ContainsFunc(s.hosts.Hosts(), func(m cluster.Member) bool { return m.Host == host && m.Alive() })
}

// connect joins the cluster that the options name, if any, before the store is opened.
func (s *Service) connect(ctx context.Context) error {
	if s.Cluster == nil {
		return nil
	}
	c, err := cluster.Connect(ctx, *s.Cluster, s.Data)
	if err != nil {
		return err
	}
	s.hosts = &hosts{Cluster: c, aside: aside{make(chan func(context.Context), mostAside)}}
	return nil
}

// stayAlone refuses to change the records of a cluster without its other hosts, unless they are to be
// a host's own from now on.
func (s *Service) stayAlone(ctx context.Context) error {
	_, id, err := s.store.Position(ctx)
	if err != nil || id == "" || s.hosts != nil {
		return err
	}
	if !s.LeaveCluster {
		return fmt.Errorf("the records in %s are those of a cluster; start this host with --cluster, or with --leave-cluster to go on alone from what it has, which the cluster then knows nothing of", s.Data)
	}
	if err := s.haveAll(ctx); err != nil {
		return err
	}
	return errors.Join(s.store.Leave(ctx), os.RemoveAll(filepath.Join(s.Data, "index")))
}

// haveAll tells whether this host has all originals: it cannot fetch any more once it is alone.
func (s *Service) haveAll(ctx context.Context) error {
	sums, err := s.store.Sums(ctx)
	if err != nil {
		return err
	}
	missing := 0
	for _, sum := range sums {
		if _, err := os.Stat(s.store.FilePath(sum)); err != nil {
			missing++
		}
	}
	if missing > 0 {
		return fmt.Errorf("%d of %d originals are only with the cluster; take a backup from one of its hosts, which fetches all, and restore that", missing, len(sums))
	}
	return nil
}

// catchUp does what the other hosts have done, before anything is opened.
func (s *Service) catchUp(ctx context.Context) error {
	if s.hosts == nil {
		return nil
	}
	s.hosts.replicas = s.newReplicas()
	within, cancel := context.WithTimeout(ctx, catchesUpWithin)
	defer cancel()
	if err := s.hosts.Start(within, s.store, s.changed, s.about); err != nil {
		return fmt.Errorf("service: follow the other hosts: %w", err)
	}
	return nil
}

// catchesUpWithin is how long a host may take to do what the others have done meanwhile.
const catchesUpWithin = time.Hour

// startTogether starts what a host does as one of several.
func (s *Service) startTogether() error {
	if s.hosts == nil {
		return nil
	}
	h := s.hosts
	ctx, stop := context.WithCancel(context.Background())
	h.stop = stop
	if err := errors.Join(h.replicas.Locate(ctx), h.replicas.Serve(ctx)); err != nil {
		stop()
		return err
	}
	if h.Has(cluster.Answer) {
		h.done.Go(func() { h.replicas.Run(ctx) })
	}
	if h.Has(cluster.Intake) {
		h.done.Go(func() { h.Ledger().Work(ctx, intakeTask, workers(), s.takeTask) })
	}
	if h.Has(cluster.Encode) {
		h.done.Go(func() { h.Ledger().Work(ctx, encodeTask, 1, s.encodeTask) })
	}
	h.done.Go(func() { h.aside.run(ctx) })
	h.done.Go(func() { s.Duty(ctx, clusterDuty, s.runDuties) })
	return nil
}

func (h *hosts) end() {
	if h == nil {
		return
	}
	if h.stop != nil {
		h.stop()
		h.done.Wait()
	}
}

// OnChange has do called after each change of the records, of this host or another one. On a host alone
// it never is.
func (s *Service) OnChange(do func(*store.Change)) {
	s.syncing.Lock()
	defer s.syncing.Unlock()
	s.curious = append(s.curious, do)
}

// Spread tells the other hosts, if there are any, something about a subject that is in no record.
func (s *Service) Spread(subject string, data []byte) error {
	if s.hosts == nil {
		return nil
	}
	return s.hosts.Spread(subject, data)
}

// Hear has hear told what the other hosts spread about a subject, until the service is closed.
func (s *Service) Hear(subject string, hear func(data []byte)) error {
	if s.hosts == nil {
		return nil
	}
	return s.hosts.Hear(context.Background(), subject, hear) // the connection ends with the service
}

// Enqueue has some host do a task.
func (s *Service) Enqueue(ctx context.Context, kind, id string) error {
	return s.hosts.Ledger().Enqueue(ctx, kind, id)
}

// Tasks does tasks of a kind until ctx is done, if this is one of several hosts and answers.
func (s *Service) Tasks(ctx context.Context, kind string, do func(context.Context, ledger.Task) error) {
	if s.hosts != nil && s.hosts.Has(cluster.Answer) {
		s.hosts.Ledger().Work(ctx, kind, 1, do)
	}
}

// Duty runs do on one host at a time, until ctx is done; on one that is alone at once.
func (s *Service) Duty(ctx context.Context, name string, do func(context.Context)) {
	if s.hosts == nil {
		do(ctx)
		return
	}
	s.hosts.Ledger().Lead(ctx, name, s.hosts.Host, do)
}

// Count adds to a count that the hosts have in common, and returns what it is then.
func (s *Service) Count(ctx context.Context, key string, add int) (int, error) {
	return s.hosts.Ledger().Count(ctx, key, add)
}

// MayAnswer tells why this host may not answer now, nil if it may.
func (s *Service) MayAnswer() error {
	if s.hosts == nil {
		return nil
	}
	return s.hosts.MayAnswer()
}

// Done waits until what this host has changed so far holds on every host that answers.
func (s *Service) Done(ctx context.Context) error {
	if s.hosts == nil {
		return nil
	}
	return s.hosts.Settled(ctx, s.store.Number())
}

// Reason says why this host does not answer, or makes no change, as it is told to people.
func Reason(err error) string {
	if errors.Is(err, store.ErrOvertaken) {
		return "this host is cut off from the others of its cluster, or far behind them; ask another host"
	}
	return strings.TrimPrefix(err.Error(), "cluster: ")
}

// IsCutOff tells whether an error says that this host cannot reach the others.
func IsCutOff(err error) bool {
	return errors.Is(err, cluster.ErrCutOff) || errors.Is(err, cluster.ErrOldHosts) || errors.Is(err, ledger.ErrAway) || errors.Is(err, store.ErrOvertaken)
}

// changed takes note of a change of the records, which another host made perhaps.
func (s *Service) changed(c *store.Change, own bool) {
	s.syncing.Lock()
	defer s.syncing.Unlock()
	if !s.started {
		return // it is opened as it is then
	}
	ctx := context.Background()
	var err error
	if c.Touches("collections") {
		err = s.syncCollections(ctx)
	}
	if err != nil {
		s.Log.Error("what was changed could not be taken note of", "error", err)
	}
	s.noteChange(c)
	for _, told := range s.curious {
		told(c)
	}
	if own { // whoever changed it tells
		return
	}
	for _, id := range c.Documents() {
		if _, err := s.store.Document(ctx, id); errors.Is(err, ErrNotFound) {
			s.events.send(Event{Removed: id})
			continue
		}
		s.tell(ctx, id)
	}
}

// noteChange has what was worked out from the records worked out anew.
func (s *Service) noteChange(c *store.Change) {
	s.hosts.replicas.Changed(c)
	if len(c.Dropped) > 0 {
		s.emptyLogLater()
	}
	if !c.Touches("abbreviations") && !c.Touches("documents") && !c.Touches("collections") {
		return
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, open := range s.collections {
		open.outdated.Store(true)
	}
}

// syncCollections opens the collections that another host made, lets go of those that it removed,
// and takes over what it set in the others.
func (s *Service) syncCollections(ctx context.Context) error {
	all, err := s.store.Collections(ctx)
	if err != nil {
		return err
	}
	there := map[string]bool{}
	for _, sc := range all {
		there[sc.ID] = true
		s.mu.Lock()
		c := s.collections[sc.ID]
		s.mu.Unlock()
		if c == nil {
			if _, err := s.openCollection(sc); err != nil {
				return err
			}
			continue
		}
		if err := s.settle(c, &sc); err != nil {
			return err
		}
		s.intake.pause(sc.ID, sc.Paused)
		c.taught.Add(1)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for id, c := range s.collections {
		if there[id] {
			continue
		}
		delete(s.collections, id)
		s.hosts.replicas.Forget(id)
		s.events.send(Event{Collection: c.Name, Removed: c.Name})
		if err := os.RemoveAll(s.indexDir(id)); err != nil {
			s.Log.Error("the index of a collection that is gone could not be removed", "error", err)
		}
	}
	return nil
}

// reload takes over what is recorded of a collection, after it was changed here. What is taken over
// last is what is recorded: another change may have come before or after.
func (s *Service) reload(ctx context.Context, c *collection) error {
	s.syncing.Lock()
	defer s.syncing.Unlock()
	sc, err := s.store.Collection(ctx, c.Name)
	if err != nil {
		return err
	}
	if err := s.settle(c, sc); err != nil {
		return err
	}
	s.intake.pause(sc.ID, sc.Paused)
	return nil
}

// original returns where a document's original lies on this host, and fetches it if another host
// has it.
func (s *Service) original(ctx context.Context, sum string) (string, error) {
	path := s.store.FilePath(sum)
	if s.hosts == nil {
		return path, nil
	}
	return path, s.hosts.FetchOriginal(ctx, sum)
}

// fetchOriginals fetches all originals that this host does not have.
func (s *Service) fetchOriginals(ctx context.Context) error {
	if s.hosts == nil {
		return nil
	}
	sums, err := s.store.Sums(ctx)
	if err != nil {
		return err
	}
	for _, sum := range sums {
		if _, err := s.original(ctx, sum); err != nil && !errors.Is(err, ledger.ErrNoObject) { // one that is lost already
			return err
		}
	}
	return nil
}

// drop removes a content that no document has any more, everywhere.
func (s *Service) drop(ctx context.Context, sum string) error {
	dropped, err := s.store.Drop(ctx, sum)
	if err != nil || !dropped || s.hosts == nil {
		return err
	}
	return s.hosts.RemoveOriginal(ctx, sum)
}

// handIn gives the other hosts a file that this one has.
func (s *Service) handIn(ctx context.Context, sum string) error {
	if s.hosts == nil {
		return nil
	}
	return s.hosts.PutOriginal(ctx, s.store.FilePath(sum), sum)
}

// searcher returns what finds the passages of a collection.
func (s *Service) searcher(c *collection) index.Searcher {
	if x := c.index.Load(); x != nil {
		return x
	}
	return s.hosts.replicas.Set(c.ID)
}

// isSame tells whether a collection still has the index that something was found in.
func (c *collection) isSame(x index.Searcher) bool {
	own := c.index.Load()
	return own == nil || x == index.Searcher(own)
}

// isIn tells whether a document can be found, as it was read before perhaps.
func (s *Service) isIn(ctx context.Context, c *collection, id string) bool {
	if x := c.index.Load(); x != nil {
		return x.Has(id)
	}
	d, err := s.store.Document(ctx, id)
	return err == nil && d.Taken >= 0
}
