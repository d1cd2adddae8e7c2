// Package cluster makes a host one of several that hold the same records.
//
// Every change of the records is proposed to the ledger, and every host does those of the others in
// the ledger's order. A host may answer while it holds a lease: once a second it sends a beat into
// the ledger, and when it reads that beat back it has done every change from before it; for some
// seconds from the moment that it sent the beat it may answer from what it has. Who makes a change
// waits, before saying that it is done, until each host has told that it has done it too, or until
// the lease is over that such a host can have at most. So what was said to be done holds on every
// host that answers, and one that is cut off stops answering in time. Only spans of time are
// measured, each on one host: what the clocks say does not matter (Gray and Cheriton, 1989).
package cluster

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"strings"
	"sync"
	"time"

	"golang.org/x/time/rate"

	"jardinet/ledger"
	"jardinet/store"
)

// A Role is a kind of work that a host does.
type Role string

// The roles. A host that answers holds shards too.
const (
	Answer Role = "answer"
	Intake Role = "intake"
	Encode Role = "encode"
)

// Roles returns the roles that are named; "all", or nothing, is each of them.
func Roles(named []string) ([]Role, error) {
	all := []Role{Answer, Intake, Encode}
	if len(named) == 0 || slices.Contains(named, "all") {
		return all, nil
	}
	var out []Role
	for _, n := range named {
		if !slices.Contains(all, Role(n)) {
			return nil, fmt.Errorf("there is no role %q; use answer, intake, encode or all", n)
		}
		out = append(out, Role(n))
	}
	return out, nil
}

// Options say which cluster a host joins, and as what.
type Options struct {
	URL      string // of NATS servers, between commas
	Secret   string // that they need; empty for none, or one in the URL
	CA       string // file with the certificate of who vouches for the servers; empty for those that the machine trusts
	Host     string // name, unlike those of the others
	Address  string // where people and programs reach the host
	Roles    []Role
	Copies   int // how many NATS servers keep everything; 3, or 1 for a single one
	Shards   int // in how many parts a collection's passages are, if this host founds the cluster
	Replicas int // on how many hosts each shard is, if this host founds the cluster
	Version  string
	Log      *slog.Logger

	timing *timing // of tests; nil for the usual one
}

// A timing is that of leases.
type timing struct {
	beat  time.Duration // between two beats
	lease time.Duration
	gone  time.Duration // after which a host that gives no sign of life no longer counts as one
}

// usual is the timing of every cluster. The servers of NATS may take nine seconds to choose a new
// leader, during which no beat is taken; answers go on meanwhile.
var usual = timing{beat: time.Second, lease: 12 * time.Second, gone: 30 * time.Second}

// over is after what time a lease of another host is over for certain: clocks do not run at quite the
// same speed.
func (t *timing) over() time.Duration { return t.lease + t.lease/20 }

// Errors that callers tell apart.
var (
	// ErrCutOff says that this host cannot tell whether what it has is the latest.
	ErrCutOff = errors.New("this host is cut off from the others of its cluster")
	// ErrOldHosts says that this host is newer than others, and makes no changes before they are too.
	ErrOldHosts = errors.New("this host waits for the others to be upgraded")
)

// A Cluster is a host's place among the others.
type Cluster struct {
	Options
	conn   *link
	ledger *ledger.Ledger
	terms  terms
	store  *store.Store
	dir    string // of the records
	stop   context.CancelFunc
	done   sync.WaitGroup
	// fetching limits how fast files are fetched.
	fetching *rate.Limiter

	mu      sync.Mutex
	changed chan struct{}        // closed when anything below changes
	seen    uint64               // entry of the ledger that was read last
	lease   time.Time            // when it ends
	beats   map[string]time.Time // when own beats were sent that have not come back, by what is unlike in each
	members map[string]*Member   // the other hosts and this one, by name
	failed  error                // what ended the following of the ledger
	problem string               // why this host is behind
	about   func() json.RawMessage
}

// terms are what holds for a whole cluster from its founding on.
type terms struct {
	ID       string `json:"id"`
	Founder  string `json:"founder"`
	Shards   int    `json:"shards"`
	Replicas int    `json:"replicas"`
}

// A Member is a host as the others know it.
type Member struct {
	Host     string          `json:"host"`
	Address  string          `json:"address"`
	Roles    []Role          `json:"roles"`
	Version  string          `json:"version"`
	Schema   int             `json:"schema"`
	Done     uint64          `json:"done"`  // number of the last change that it has done
	Nonce    string          `json:"nonce"` // unlike in each beat
	Sent     time.Time       `json:"sent"`  // by the host's clock
	Problem  string          `json:"problem,omitempty"`
	Leaving  bool            `json:"leaving,omitempty"` // it stops, and answers no more
	About    json.RawMessage `json:"about,omitempty"`   // what the service says of itself
	Received time.Time       `json:"-"`                 // by this host's clock
	Skew     time.Duration   `json:"-"`                 // of its clock against this host's
}

// Connect connects to a cluster's NATS servers and makes the records in the directory dir those of
// the cluster, as far as they are not yet. The store must not be open.
func Connect(ctx context.Context, opts Options, dir string) (*Cluster, error) {
	if opts.Host == "" || strings.ContainsAny(opts.Host, " .*>\t") {
		return nil, fmt.Errorf("cluster: a host's name has no spaces, dots, stars or brackets; %q does not do", opts.Host)
	}
	if opts.Log == nil {
		opts.Log = slog.New(slog.DiscardHandler)
	}
	if opts.timing == nil {
		opts.timing = &usual
	}
	conn, err := connect(opts, ownAddresses())
	if err != nil {
		return nil, err
	}
	c := &Cluster{Options: opts, dir: dir, conn: conn, fetching: rate.NewLimiter(fetchesAtMost, fetchesAtMost), changed: make(chan struct{}), beats: map[string]time.Time{}, members: map[string]*Member{}}
	opening, cancel := context.WithTimeout(ctx, opensWithin)
	defer cancel()
	if c.ledger, err = ledger.Open(opening, conn.Conn, opts.Copies); err == nil {
		err = c.found(ctx, dir)
	}
	if err != nil {
		conn.Close()
		return nil, err
	}
	return c, nil
}

// opensWithin is how long the NATS servers are waited for.
const opensWithin = time.Minute

// Start has a store share its changes with the other hosts, and returns once it has done all that
// there were. done is told of each change, in their order, and whether this host made it, before
// anybody is told that it was done here. about is asked what else the other hosts are to know.
func (c *Cluster) Start(ctx context.Context, st *store.Store, done func(change *store.Change, own bool), about func() json.RawMessage) error {
	c.store, c.about = st, about
	if err := st.Share(ctx, c.propose); err != nil {
		return err
	}
	c.seen = st.Number()
	running, stop := context.WithCancel(context.WithoutCancel(ctx))
	c.stop = stop
	if err := errors.Join(c.listen(running, ackSubject, c.acknowledged), c.lend(running)); err != nil {
		stop()
		return err
	}
	c.done.Go(func() {
		err := c.ledger.Follow(running, st.Number(), ledger.Reader{
			Change: func(ctx context.Context, number uint64, host string, body []byte) error {
				return c.apply(ctx, number, host, body, done)
			},
			Beat: c.beaten,
		})
		if running.Err() == nil {
			c.fail(err)
		}
	})
	c.done.Go(func() { c.beat(running) })
	c.done.Go(func() { c.conn.stayNear(running) })
	return c.wait(ctx, func() bool { return c.failed != nil || time.Now().Before(c.lease) }, nil)
}

// Close tells the others that this host stops, and leaves.
func (c *Cluster) Close() error {
	c.mu.Lock()
	c.lease = time.Time{}
	c.mu.Unlock()
	ctx, cancel := context.WithTimeout(context.Background(), 2*time.Second)
	defer cancel()
	_ = c.sendBeat(ctx, true) // else they find out by themselves
	c.stop()
	c.done.Wait()
	c.conn.Close()
	return nil
}

// Ledger returns what the hosts have in common.
func (c *Cluster) Ledger() *ledger.Ledger { return c.ledger }

// ID returns the id of the cluster.
func (c *Cluster) ID() string { return c.terms.ID }

// Terms returns in how many parts a collection's passages are, and on how many hosts each is.
func (c *Cluster) Terms() (shards, replicas int) { return c.terms.Shards, c.terms.Replicas }

// propose offers a change of the store to the ledger.
func (c *Cluster) propose(ctx context.Context, after uint64, change *store.Change) (uint64, error) {
	if err := c.MayAnswer(); err != nil { // nobody would be heard
		return 0, err
	}
	if c.hasOlder() {
		return 0, fmt.Errorf("cluster: %w; changes are made on those meanwhile", ErrOldHosts)
	}
	body, err := change.Encode()
	if err != nil {
		return 0, err
	}
	number, err := c.ledger.Append(ctx, c.Host, after, body)
	switch {
	case errors.Is(err, ledger.ErrBehind):
		return 0, store.ErrBehind
	case errors.Is(err, ledger.ErrUnsure):
		return 0, fmt.Errorf("cluster: %w, so nothing can be changed here now: %w", ErrCutOff, err)
	}
	return number, err
}

// apply does a change that was read in the ledger.
func (c *Cluster) apply(ctx context.Context, number uint64, host string, body []byte, done func(*store.Change, bool)) error {
	change, err := store.DecodeChange(body)
	if err != nil {
		return err
	}
	own := number <= c.store.Number()
	for {
		err := c.store.Apply(ctx, number, change)
		if err == nil {
			break
		}
		if !store.IsFull(err) {
			return err
		}
		c.setProblem("its disk is full")
		c.Log.Error("a change of another host cannot be kept; make room on the disk", "change", number, "error", err)
		select {
		case <-time.After(c.timing.beat):
		case <-ctx.Done():
			return ctx.Err()
		}
	}
	c.setProblem("")
	done(change, own && host == c.Host)
	c.mu.Lock()
	c.seen = number
	c.notify()
	c.mu.Unlock()
	c.acknowledge(number)
	return nil
}

func (c *Cluster) fail(err error) {
	c.Log.Error("this host can no longer follow the others", "error", err)
	if errors.Is(err, store.ErrDiverged) || errors.Is(err, ledger.ErrTrimmed) {
		err = errors.Join(err, c.setAside())
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	c.failed = err
	c.lease = time.Time{}
	c.notify()
}

// notify tells those who wait that something changed. The lock is held.
func (c *Cluster) notify() {
	close(c.changed)
	c.changed = make(chan struct{})
}

// wait waits until a condition holds, which is looked at under the lock, or until is done.
func (c *Cluster) wait(ctx context.Context, holds func() bool, until <-chan time.Time) error {
	for {
		c.mu.Lock()
		ok, failed, changed := holds(), c.failed, c.changed
		c.mu.Unlock()
		if failed != nil {
			return failed
		}
		if ok {
			return nil
		}
		select {
		case <-changed:
		case <-until:
			return nil
		case <-ctx.Done():
			return ctx.Err()
		}
	}
}
