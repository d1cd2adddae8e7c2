package cluster

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/nats-io/nats.go"

	"jardinet/store"
)

// ackSubject is where a host tells that it has done a change.
const ackSubject = "jardinet.done"

// beat sends beats until ctx is done.
func (c *Cluster) beat(ctx context.Context) {
	for ctx.Err() == nil {
		if err := c.sendBeat(ctx, false); err != nil && ctx.Err() == nil {
			c.Log.Debug("a beat was not taken", "error", err)
		}
		select {
		case <-time.After(c.timing.beat):
		case <-ctx.Done():
		}
	}
}

func (c *Cluster) sendBeat(ctx context.Context, leaving bool) error {
	m := Member{
		Host: c.Host, Address: c.Address, Roles: c.Roles, Version: c.Version, Schema: store.Schema,
		Nonce: rand.Text(), Sent: time.Now(), Leaving: leaving,
	}
	if c.about != nil {
		m.About = c.about()
	}
	c.mu.Lock()
	m.Problem, m.Done = c.problem, c.seen
	now := time.Now()
	for nonce, at := range c.beats {
		if now.Sub(at) > c.timing.lease {
			delete(c.beats, nonce)
		}
	}
	c.beats[m.Nonce] = now
	c.mu.Unlock()
	data, err := json.Marshal(m)
	if err != nil {
		return fmt.Errorf("cluster: beat: %w", err)
	}
	return c.ledger.Beat(ctx, c.Host, data)
}

// beaten reads a beat of any host in the ledger.
func (c *Cluster) beaten(host string, data []byte) {
	m := new(Member)
	if err := json.Unmarshal(data, m); err != nil || m.Host != host {
		c.Log.Warn("a beat cannot be read", "host", host, "error", err)
		return
	}
	m.Received = time.Now()
	m.Skew = m.Sent.Sub(m.Received.Round(0)).Round(time.Millisecond)
	c.mu.Lock()
	defer c.mu.Unlock()
	if old := c.members[host]; old != nil {
		m.Done = max(m.Done, old.Done)
	}
	c.members[host] = m
	if at, ok := c.beats[m.Nonce]; ok && host == c.Host && !m.Leaving {
		delete(c.beats, m.Nonce)
		if until := at.Add(c.timing.lease); until.After(c.lease) {
			c.lease = until
		}
	}
	c.notify()
}

// acknowledge tells the others that changes up to a number are done here.
func (c *Cluster) acknowledge(number uint64) {
	// One that does not arrive is told with the next beat.
	_ = c.conn.Publish(ackSubject, strconv.AppendUint([]byte(c.Host+" "), number, 10))
}

func (c *Cluster) acknowledged(msg *nats.Msg) {
	host, digits, _ := strings.Cut(string(msg.Data), " ")
	number, err := strconv.ParseUint(digits, 10, 64)
	if err != nil {
		return
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	if m := c.members[host]; m != nil && number > m.Done {
		m.Done = number
		c.notify()
	}
}

// MayAnswer tells why this host may not answer now, nil if it may: what was said to be done
// anywhere is done here.
func (c *Cluster) MayAnswer() error {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.failed != nil {
		return fmt.Errorf("cluster: this host can no longer follow the others, start it again: %w", c.failed)
	}
	if over := time.Since(c.lease); over >= 0 {
		if c.problem != "" {
			return fmt.Errorf("cluster: %w: %s", ErrCutOff, c.problem)
		}
		return fmt.Errorf("cluster: %w, and does not know whether what it has is the latest; ask another host", ErrCutOff)
	}
	return nil
}

// Settled waits until each host that may answer has done the change of a number.
func (c *Cluster) Settled(ctx context.Context, number uint64) error {
	// From here on the beats before the change are known, and so is every host that may answer
	// from what was before.
	if err := c.wait(ctx, func() bool { return c.seen >= number }, nil); err != nil {
		return err
	}
	over := time.NewTimer(c.timing.over())
	defer over.Stop()
	return c.wait(ctx, func() bool {
		for host, m := range c.members {
			if host != c.Host && !m.Leaving && m.Done < number && time.Since(m.Received) < c.timing.over() {
				return false
			}
		}
		return true
	}, over.C)
}

// hasOlder tells whether a host is there that has not been upgraded to what this one's changes need.
func (c *Cluster) hasOlder() bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	for _, m := range c.members {
		if m.Schema < store.Schema && !m.Leaving && time.Since(m.Received) < c.timing.gone {
			return true
		}
	}
	return false
}

// Hosts returns all hosts that have shown a sign of life of late, by name.
func (c *Cluster) Hosts() []Member {
	c.mu.Lock()
	defer c.mu.Unlock()
	var out []Member
	for _, m := range c.members {
		out = append(out, *m)
	}
	slices.SortFunc(out, func(a, b Member) int { return strings.Compare(a.Host, b.Host) })
	return out
}

// Alive tells whether a host has shown a sign of life of late and does not stop.
func (m *Member) Alive() bool { return !m.Leaving && time.Since(m.Received) < usual.gone }

// Has tells whether a host has a role.
func (m *Member) Has(role Role) bool { return slices.Contains(m.Roles, role) }

// Has tells whether this host has a role.
func (o *Options) Has(role Role) bool { return slices.Contains(o.Roles, role) }

func (c *Cluster) setProblem(problem string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.problem = problem
}

// MayAnswer tells whether a host that is there may have the right to answer.
func (m *Member) MayAnswer() bool { return !m.Leaving && time.Since(m.Received) < usual.over() }
