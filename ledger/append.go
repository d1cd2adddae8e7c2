package ledger

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"time"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"
)

// mostInline is how many bytes of a change stand in the stream itself; a longer one is kept as a
// file, of which the stream has the hash.
const mostInline = 256 << 10

const (
	headerObject = "Jardinet-Object" // hash of the change, which is a file
	headerHost   = "Jardinet-Host"   // who made it
)

// What a new ledger has for Try and Wait.
const (
	tryFor     = 10 * time.Second
	attemptFor = 2 * time.Second
)

// Append adds a change to follow the change of a number, 0 for none, and returns its number. An
// answer that does not come is asked for again, until it is known what became of the change: as it
// can only follow the one named, it is there if the next change is this one, and never will be
// if it is another.
func (l *Ledger) Append(ctx context.Context, host string, after uint64, body []byte) (uint64, error) {
	msg := &nats.Msg{Subject: changes, Data: body, Header: nats.Header{}}
	id := rand.Text()
	msg.Header.Set(nats.MsgIdHdr, id)
	msg.Header.Set(headerHost, host)
	if len(body) > mostInline {
		sum, err := l.PutBytes(ctx, Change, body)
		if err != nil {
			return 0, err
		}
		msg.Data = nil
		msg.Header.Set(headerObject, sum)
	}
	ctx, cancel := context.WithTimeout(ctx, l.Try)
	defer cancel()
	for sent := false; ; sent = true {
		number, err := l.publish(ctx, msg, after)
		switch {
		case err == nil:
			return number, nil
		case isWrongLast(err) && !sent:
			return 0, ErrBehind
		case isWrongLast(err): // by this very change, perhaps
			if number, known := l.follows(ctx, after, id); known {
				if number == 0 {
					return 0, ErrBehind
				}
				return number, nil
			}
		}
		select {
		case <-ctx.Done():
			return 0, fmt.Errorf("ledger: %w; whether the change was accepted is not known: %w", ErrUnsure, err)
		case <-time.After(retryAfter):
		}
	}
}

func (l *Ledger) publish(ctx context.Context, msg *nats.Msg, after uint64) (uint64, error) {
	ctx, cancel := context.WithTimeout(ctx, l.Wait)
	defer cancel()
	ack, err := l.js.PublishMsg(ctx, msg, jetstream.WithExpectLastSequencePerSubject(after), jetstream.WithRetryAttempts(0))
	if err != nil {
		return 0, err
	}
	return ack.Sequence, nil
}

func isWrongLast(err error) bool {
	var failed *jetstream.APIError
	if !errors.As(err, &failed) {
		return false
	}
	return failed.ErrorCode == jetstream.JSErrCodeStreamWrongLastSequence || failed.ErrorCode == jetstream.JSErrCodeStreamWrongLastSequenceConstant
}

// follows tells whether it is known which change follows one, and returns its number if it is the
// one of that id, else 0.
func (l *Ledger) follows(ctx context.Context, after uint64, id string) (number uint64, known bool) {
	ctx, cancel := context.WithTimeout(ctx, l.Wait)
	defer cancel()
	msg, err := l.stream.GetMsg(ctx, after+1, jetstream.WithGetMsgSubject(changes))
	if err != nil {
		return 0, false
	}
	if msg.Header.Get(nats.MsgIdHdr) == id {
		return msg.Sequence, true
	}
	return 0, true
}

// Beat adds a sign of life of a host.
func (l *Ledger) Beat(ctx context.Context, host string, body []byte) error {
	ctx, cancel := context.WithTimeout(ctx, l.Wait)
	defer cancel()
	_, err := l.js.Publish(ctx, beats+host, body, jetstream.WithRetryAttempts(0))
	if err != nil {
		return fmt.Errorf("ledger: beat: %w", err)
	}
	return nil
}
