// Package ledger is what several hosts have in common: one order of changes, files by their hash,
// work that is to be done once, and leases. It is kept by NATS JetStream, which replicates all of
// it over a majority of its servers; nothing here decides by itself what was agreed on.
//
// Changes and beats stand in one stream. A change says which change it follows, and the stream
// takes it only if that one is the last, so that of two hosts that write at once one has to look
// again. A beat is a sign of life of a host. As both are in one order, a host that reads its own
// beat has read every change that was accepted before it sent the beat.
package ledger

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"
)

// Errors that callers tell apart.
var (
	// ErrBehind says that another change follows the one named already.
	ErrBehind = errors.New("another change came first")
	// ErrUnsure says that it could not be found out whether a change was accepted. It may be yet.
	ErrUnsure = errors.New("a majority of the NATS servers cannot be reached")
	// ErrTrimmed says that changes are no longer in the ledger, since a snapshot has them.
	ErrTrimmed = errors.New("the changes that follow are only in a snapshot")
	// ErrAway says that NATS cannot be reached, or not enough of it, for now.
	ErrAway = errors.New("NATS cannot be reached now")
	// ErrNoObject says that there is no file of a hash.
	ErrNoObject = errors.New("no such file")
)

// Names of what the ledger keeps in JetStream.
const (
	streamName = "JARDINET"
	workName   = "JARDINET_WORK"
	filesName  = "jardinet"
	factsName  = "jardinet-facts"
	leasesName = "jardinet-leases"
	countsName = "jardinet-counts"
	changes    = "jardinet.change"
	beats      = "jardinet.beat."
	works      = "jardinet.work."
)

// A Ledger is open on a connection to NATS. It may be used by many goroutines.
type Ledger struct {
	// Try is how long it is tried to find out what became of a change, and Wait how long one answer
	// is waited for.
	Try, Wait time.Duration

	conn   *nats.Conn
	js     jetstream.JetStream
	stream jetstream.Stream
	work   jetstream.Stream
	files  jetstream.ObjectStore
	facts  jetstream.KeyValue
	leases jetstream.KeyValue
	counts jetstream.KeyValue
}

// duplicates is for how long a change that is sent again is known for the same.
const duplicates = 2 * time.Minute

// countsFor is how long a count is kept after it last grew.
const countsFor = time.Hour

// Open opens the ledger, making it if there is none, with so many copies of everything. It is
// made whole or not at all: if too few servers are there, ctx says how long they are waited for.
func Open(ctx context.Context, conn *nats.Conn, copies int) (*Ledger, error) {
	js, err := jetstream.New(conn, jetstream.WithDefaultTimeout(5*time.Second))
	if err != nil {
		return nil, fmt.Errorf("ledger: %w", err)
	}
	l := &Ledger{Try: tryFor, Wait: attemptFor, conn: conn, js: js}
	for {
		if err = l.make(ctx, copies); err == nil {
			return l, nil
		}
		select {
		case <-ctx.Done():
			return nil, fmt.Errorf("ledger: %w; are %d NATS servers with JetStream running, and do they know of each other?", err, copies)
		case <-time.After(retryAfter):
		}
	}
}

// retryAfter is how long what failed at NATS is left alone before it is tried again.
const retryAfter = 250 * time.Millisecond

func (l *Ledger) make(ctx context.Context, copies int) (err error) {
	l.stream, err = l.ensure(ctx, jetstream.StreamConfig{
		Name: streamName, Subjects: []string{changes, beats + "*"}, Storage: jetstream.FileStorage, Replicas: copies,
		Duplicates: duplicates, DenyDelete: true, Description: "The order of Jardinet's changes. Do not write to it by hand.",
	})
	if err != nil {
		return err
	}
	l.work, err = l.ensure(ctx, jetstream.StreamConfig{
		Name: workName, Subjects: []string{works + ">"}, Storage: jetstream.FileStorage, Replicas: copies,
		Retention: jetstream.WorkQueuePolicy, MaxMsgsPerSubject: 1, Discard: jetstream.DiscardNew, DiscardNewPerSubject: true, Description: "Work that one of Jardinet's hosts is to do.",
	})
	if err != nil {
		return err
	}
	l.files, err = ensured(ctx, filesName, l.js.ObjectStore, func(ctx context.Context) (jetstream.ObjectStore, error) {
		return l.js.CreateObjectStore(ctx, jetstream.ObjectStoreConfig{Bucket: filesName, Storage: jetstream.FileStorage, Replicas: copies})
	}, jetstream.ErrBucketNotFound)
	if err != nil {
		return err
	}
	if l.facts, err = l.bucket(ctx, factsName, 0, copies); err != nil {
		return err
	}
	l.leases, err = l.bucket(ctx, leasesName, leaseFor, copies)
	if err != nil {
		return err
	}
	l.counts, err = l.bucket(ctx, countsName, countsFor, copies)
	return err
}

// ensure returns a stream, making it if there is none.
func (l *Ledger) ensure(ctx context.Context, cfg jetstream.StreamConfig) (jetstream.Stream, error) {
	return ensured(ctx, cfg.Name, l.js.Stream, func(ctx context.Context) (jetstream.Stream, error) { return l.js.CreateStream(ctx, cfg) }, jetstream.ErrStreamNotFound)
}

func (l *Ledger) bucket(ctx context.Context, name string, ttl time.Duration, copies int) (jetstream.KeyValue, error) {
	return ensured(ctx, name, l.js.KeyValue, func(ctx context.Context) (jetstream.KeyValue, error) {
		return l.js.CreateKeyValue(ctx, jetstream.KeyValueConfig{Bucket: name, TTL: ttl, Storage: jetstream.FileStorage, Replicas: copies})
	}, jetstream.ErrBucketNotFound)
}

// ensured opens something by its name, or makes it. Hosts that start together may both try.
func ensured[T any](ctx context.Context, name string, open func(context.Context, string) (T, error), make func(context.Context) (T, error), missing error) (T, error) {
	ctx, cancel := context.WithTimeout(ctx, 5*time.Second)
	defer cancel()
	out, err := open(ctx, name)
	if !errors.Is(err, missing) {
		return out, err
	}
	if out, err = make(ctx); err != nil {
		if again, second := open(ctx, name); second == nil {
			return again, nil
		}
	}
	return out, err
}
