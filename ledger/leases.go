package ledger

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/nats-io/nats.go/jetstream"
)

// leaseFor is how long a lease holds that is not renewed.
const leaseFor = 10 * time.Second

// Lead runs do on one host at a time: on this one as long as it holds the lease of a name. The
// context of do is done when the lease is lost. Two hosts may believe for a moment that they
// hold it, so what do changes must be right even then. Lead returns when ctx is done.
func (l *Ledger) Lead(ctx context.Context, name, host string, do func(context.Context)) {
	for ctx.Err() == nil {
		if revision, ok := l.seize(ctx, name, host); ok {
			l.hold(ctx, name, host, revision, do)
			continue
		}
		select {
		case <-ctx.Done():
		case <-time.After(leaseFor / 4):
		}
	}
}

func (l *Ledger) seize(ctx context.Context, name, host string) (revision uint64, ok bool) {
	ctx, cancel := context.WithTimeout(ctx, l.Wait)
	defer cancel()
	revision, err := l.leases.Create(ctx, name, []byte(host))
	if err == nil {
		return revision, true
	}
	// One that this host left behind when it was killed is its own again.
	entry, err := l.leases.Get(ctx, name)
	if err != nil || string(entry.Value()) != host {
		return 0, false
	}
	revision, err = l.leases.Update(ctx, name, []byte(host), entry.Revision())
	return revision, err == nil
}

func (l *Ledger) hold(ctx context.Context, name, host string, revision uint64, do func(context.Context)) {
	held, lose := context.WithCancel(ctx)
	ended := make(chan struct{})
	go func() { defer close(ended); do(held) }()
	defer func() { <-ended }()
	defer lose()
	renewed := time.Now()
	for {
		select {
		case <-ended:
			l.release(ctx, name, revision)
			return
		case <-ctx.Done():
			lose()
			<-ended
			l.release(ctx, name, revision)
			return
		case <-time.After(leaseFor / 4):
		}
		began := time.Now()
		renewing, cancel := context.WithTimeout(ctx, l.Wait)
		next, err := l.leases.Update(renewing, name, []byte(host), revision)
		cancel()
		switch {
		case err == nil:
			revision, renewed = next, began
		case isWrongLast(err) || time.Since(renewed) > leaseFor*3/4:
			return
		}
	}
}

func (l *Ledger) release(ctx context.Context, name string, revision uint64) {
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), l.Wait)
	defer cancel()
	_ = l.leases.Delete(ctx, name, jetstream.LastRevision(revision)) // else it ends by itself
}

// Leader returns the host that holds the lease of a name, nothing if none does.
func (l *Ledger) Leader(ctx context.Context, name string) (string, error) {
	entry, err := l.leases.Get(ctx, name)
	if errors.Is(err, jetstream.ErrKeyNotFound) {
		return "", nil
	}
	if err != nil {
		return "", fmt.Errorf("ledger: lease %s: %w", name, err)
	}
	return string(entry.Value()), nil
}
