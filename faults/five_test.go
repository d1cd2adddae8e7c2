package faults

import (
	"context"
	"errors"
	"fmt"
	"syscall"
	"testing"
	"time"

	"jardinet/api"
)

// movesWithin is how long it may take until what was on hosts that are lost is on others: they are
// given a minute to come back.
const movesWithin = 3 * time.Minute

// TestFiveHosts lets a fifth host join four, and then two be lost for good.
func TestFiveHosts(t *testing.T) {
	b := newTestbed(t, 5)
	all := b.hosts
	b.hosts = all[:4]
	b.found()
	b.settleCollections()
	b.try("four and five hosts", []fault{
		{
			name: "a fifth host joins",
			begin: func(b *testbed, l *load) {
				all[4].restart()
				all[4].connect()
				l.have(all)
			},
			mend: func(b *testbed, l *load) {
				b.eventually("the fifth host has shards", time.Minute, func() error { return hasShards(all[4]) })
			},
		},
		{
			name: "two of five hosts are lost for good",
			begin: func(b *testbed, l *load) {
				for _, h := range all[3:] {
					h.serve.end(syscall.SIGKILL)
				}
			},
			mend: func(b *testbed, l *load) {
				l.have(all[:3])
				for _, h := range all[:3] {
					b.eventually(h.name+" finds everything again", movesWithin, func() error { return leavesNothingOut(h) })
				}
			},
		},
	})
}

// have says which hosts there are from now on.
func (l *load) have(hosts []*host) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.bed.hosts = hosts
}

// hasShards tells whether a host has shards, all of them up to date.
func hasShards(h *host) error {
	ctx, cancel := context.WithTimeout(context.Background(), giveUp)
	defer cancel()
	all, err := h.Hosts(ctx)
	if err != nil {
		return err
	}
	for _, one := range all.Hosts {
		if one.Name == h.name && len(one.Shards) > 0 && one.Fetching == 0 {
			return nil
		}
	}
	return fmt.Errorf("none: %+v", all.Hosts)
}

// leavesNothingOut tells which parts a host does without.
func leavesNothingOut(h *host) error {
	ctx, cancel := context.WithTimeout(context.Background(), giveUp)
	defer cancel()
	found, err := h.Find(ctx, garden, "locker", 5, api.Scope{})
	return errors.Join(err, leftOut(found))
}
