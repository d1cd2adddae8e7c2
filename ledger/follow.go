package ledger

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/nats-io/nats.go/jetstream"
)

// A Reader is told what stands in the ledger, in its order. It is called from one goroutine; an
// error ends the reading.
type Reader struct {
	Change func(ctx context.Context, number uint64, host string, body []byte) error
	Beat   func(host string, body []byte)
}

// Follow tells a reader all that follows the change of a number, and what comes from then on, until
// ctx is done or the reader fails. While NATS cannot be reached it waits.
func (l *Ledger) Follow(ctx context.Context, after uint64, r Reader) error {
	for {
		err := l.follow(ctx, &after, r)
		var stop *stopped
		switch {
		case ctx.Err() != nil:
			return ctx.Err()
		case errors.As(err, &stop):
			return stop.err
		case errors.Is(err, ErrTrimmed):
			return err
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(retryAfter):
		}
	}
}

// errLost says that a message did not come; it is asked for again.
var errLost = errors.New("a message was lost")

// A stopped is an error of the reader, not of the connection.
type stopped struct{ err error }

func (s *stopped) Error() string { return s.err.Error() }

// leastHeartbeat is how often JetStream can be asked at most to show that it is still there.
const leastHeartbeat = 500 * time.Millisecond

// follow reads until the connection fails. at is how far it has come.
func (l *Ledger) follow(ctx context.Context, at *uint64, r Reader) error {
	opening, cancel := context.WithTimeout(ctx, l.Wait)
	defer cancel()
	first, err := l.First(opening)
	if err != nil {
		return err
	}
	if *at > 0 && first > *at+1 {
		if err := l.bridged(opening, *at, first); err != nil {
			return err
		}
	}
	consumer, err := l.js.CreateConsumer(opening, streamName, jetstream.ConsumerConfig{
		DeliverPolicy: jetstream.DeliverByStartSequencePolicy, OptStartSeq: *at + 1, AckPolicy: jetstream.AckNonePolicy,
		InactiveThreshold: 10 * time.Second, MemoryStorage: true, Replicas: 1,
	})
	if err != nil {
		return err
	}
	name := consumer.CachedInfo().Name
	defer func() { // it would end by itself, later
		ending, cancel := context.WithTimeout(context.WithoutCancel(ctx), retryAfter)
		defer cancel()
		_ = l.js.DeleteConsumer(ending, streamName, name)
	}()
	messages, err := consumer.Messages(jetstream.PullHeartbeat(max(l.Wait/2, leastHeartbeat)), jetstream.PullExpiry(10*time.Second), jetstream.PullMaxMessages(200))
	if err != nil {
		return err
	}
	defer messages.Stop()
	for told := uint64(0); ; {
		msg, err := messages.Next(jetstream.NextContext(ctx))
		if err != nil {
			return err
		}
		meta, err := msg.Metadata()
		if err != nil {
			return err
		}
		if told++; meta.Sequence.Consumer != told {
			return errLost
		}
		if err := l.tell(ctx, msg, meta.Sequence.Stream, r); err != nil {
			return err
		}
		*at = meta.Sequence.Stream
	}
}

func (l *Ledger) tell(ctx context.Context, msg jetstream.Msg, number uint64, r Reader) error {
	if host, ok := strings.CutPrefix(msg.Subject(), beats); ok {
		if r.Beat != nil {
			r.Beat(host, msg.Data())
		}
		return nil
	}
	body := msg.Data()
	if sum := msg.Headers().Get(headerObject); sum != "" {
		var err error
		if body, err = l.Bytes(ctx, Change+sum); err != nil {
			return err
		}
	}
	if err := r.Change(ctx, number, msg.Headers().Get(headerHost), body); err != nil {
		return &stopped{err}
	}
	return nil
}

// Span returns when the first entry was added that is still in the ledger, and when the last was, by
// the clock of the NATS servers.
func (l *Ledger) Span(ctx context.Context) (first, last time.Time, err error) {
	info, err := l.stream.Info(ctx)
	if err != nil {
		return first, last, away("look at the stream", err)
	}
	return info.State.FirstTime, info.State.LastTime, nil
}

// First returns the number of the first entry that is still in the ledger.
func (l *Ledger) First(ctx context.Context) (uint64, error) {
	info, err := l.stream.Info(ctx)
	if err != nil {
		return 0, fmt.Errorf("ledger: %w", err)
	}
	return info.State.FirstSeq, nil
}

// bridged tells whether all that is missing between where a reader is and the first entry were
// beats, or changes that are in a snapshot alone.
func (l *Ledger) bridged(ctx context.Context, at, first uint64) error {
	trimmed, err := l.Trimmed(ctx)
	if err != nil {
		return err
	}
	if trimmed > at {
		return fmt.Errorf("ledger: %w: it begins with entry %d and this host is at %d", ErrTrimmed, first, at)
	}
	return nil
}
