package ledger

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"sync"
	"time"

	"github.com/nats-io/nats.go/jetstream"
)

// A Task is work that one host is to do. It is given to another one if it is not done, and the
// host that has it shows no sign of life.
type Task struct {
	Kind string
	ID   string // of what it is about
	Try  int    // the first is 1
}

// givenUpAfter is how long a host that has a task may be silent before another one gets it.
const givenUpAfter = 15 * time.Second

// Enqueue asks for a task to be done. It is in the queue once at most, however often it is
// asked for.
func (l *Ledger) Enqueue(ctx context.Context, kind, id string) error {
	ctx, cancel := context.WithTimeout(ctx, l.Try)
	defer cancel()
	_, err := l.js.Publish(ctx, works+kind+"."+id, nil)
	var failed *jetstream.APIError
	if errors.As(err, &failed) && failed.ErrorCode == alreadyThere {
		return nil
	}
	if err != nil {
		return fmt.Errorf("ledger: queue %s %s: %w", kind, id, err)
	}
	return nil
}

// alreadyThere is the code with which a stream refuses a second message on a subject.
const alreadyThere jetstream.ErrorCode = 10077

// Waiting returns how many tasks of a kind are in the queue, those under way among them.
func (l *Ledger) Waiting(ctx context.Context, kind string) (int, error) {
	info, err := l.work.Info(ctx, jetstream.WithSubjectFilter(works+kind+".>"))
	if err != nil {
		return 0, fmt.Errorf("ledger: %w", err)
	}
	return len(info.State.Subjects), nil
}

// Work does tasks of a kind, so many at a time, until ctx is done. A task is done when do returns
// nil; after an error it is tried again, here or elsewhere, ever more slowly. What is under way when
// ctx ends is given back.
func (l *Ledger) Work(ctx context.Context, kind string, atATime int, do func(context.Context, Task) error) {
	var workers sync.WaitGroup
	for range atATime {
		workers.Go(func() {
			for ctx.Err() == nil {
				if err := l.workSome(ctx, kind, do); err == nil || ctx.Err() != nil {
					continue
				}
				select {
				case <-ctx.Done():
				case <-time.After(retryAfter):
				}
			}
		})
	}
	workers.Wait()
}

// workSome does one task after another until the connection fails.
func (l *Ledger) workSome(ctx context.Context, kind string, do func(context.Context, Task) error) error {
	opening, cancel := context.WithTimeout(ctx, l.Wait)
	defer cancel()
	consumer, err := l.work.CreateOrUpdateConsumer(opening, jetstream.ConsumerConfig{
		Durable: kind, FilterSubject: works + kind + ".>", AckPolicy: jetstream.AckExplicitPolicy, AckWait: givenUpAfter, MaxAckPending: 10_000,
	})
	if err != nil {
		return err
	}
	for {
		batch, err := consumer.Fetch(1, jetstream.FetchContext(ctx), jetstream.FetchHeartbeat(attemptFor))
		if err != nil {
			return err
		}
		for msg := range batch.Messages() {
			l.doTask(ctx, kind, msg, do)
		}
		if err := batch.Error(); err != nil {
			return err
		}
	}
}

// retryTask is how long a task that failed rests, times how often it was tried, at most so often.
const (
	retryTask     = 5 * time.Second
	mostRetryTask = 12
)

func (l *Ledger) doTask(ctx context.Context, kind string, msg jetstream.Msg, do func(context.Context, Task) error) {
	meta, err := msg.Metadata()
	if err != nil {
		_ = msg.Nak() // it is given to another host
		return
	}
	task := Task{Kind: kind, ID: strings.TrimPrefix(msg.Subject(), works+kind+"."), Try: int(meta.NumDelivered)}
	done := make(chan struct{})
	var alive sync.WaitGroup
	alive.Go(func() {
		for {
			select {
			case <-done:
				return
			case <-time.After(givenUpAfter / 4):
				_ = msg.InProgress() // if it does not arrive, somebody else does it too
			}
		}
	})
	err = do(ctx, task)
	close(done)
	alive.Wait()
	ending, cancel := context.WithTimeout(context.WithoutCancel(ctx), l.Wait)
	defer cancel()
	switch {
	case err == nil:
		_ = msg.DoubleAck(ending) // else it is done again, which changes nothing
	case ctx.Err() != nil:
		_ = msg.Nak()
	default:
		_ = msg.NakWithDelay(retryTask * time.Duration(min(task.Try, mostRetryTask)))
	}
}
