package ledger

import (
	"context"
	"errors"
	"strconv"

	"github.com/nats-io/nats.go/jetstream"
)

// Count adds to a count that all hosts have in common, and returns what it is then. A count that has not
// grown for an hour is forgotten. Keys are of letters, digits, dots, dashes and underscores.
func (l *Ledger) Count(ctx context.Context, key string, add int) (int, error) {
	ctx, cancel := context.WithTimeout(ctx, l.Wait)
	defer cancel()
	for {
		entry, err := l.counts.Get(ctx, key)
		if errors.Is(err, jetstream.ErrKeyNotFound) {
			if add == 0 {
				return 0, nil
			}
			if _, err = l.counts.Create(ctx, key, []byte(strconv.Itoa(add))); err == nil {
				return add, nil
			}
		} else if err == nil {
			before, _ := strconv.Atoi(string(entry.Value()))
			if add == 0 {
				return before, nil
			}
			if _, err = l.counts.Update(ctx, key, []byte(strconv.Itoa(before+add)), entry.Revision()); err == nil {
				return before + add, nil
			}
		}
		if !isWrongLast(err) && !errors.Is(err, jetstream.ErrKeyExists) { // else another host was first
			return 0, away("count", err)
		}
	}
}
