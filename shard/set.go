package shard

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"sync"
	"time"

	"jardinet/index"
	"jardinet/text"
)

// A Set is all shards of a collection, as they are at one moment. It is an index.Searcher.
type Set struct {
	Collection string
	Parts      []Part
	Of         int // shards that there are in all; those that hold nothing yet are no parts
	// Holder answers for the shards that this host, called Self, has.
	Holder *Holder
	Self   string
	// Hosts returns the hosts that have a shard, those to be asked first in front.
	Hosts func(shard int) []string
	// Ask sends a request to a host and returns its reply.
	Ask func(ctx context.Context, host string, request []byte) ([]byte, error)
	// Late is told whether a host answered in time.
	Late func(host string, late bool)
	// Dead returns the documents that a shard may still have and nobody is to find.
	Dead func() []string
	// Unbuilt returns the shards that documents are still to be taken into which were found before.
	Unbuilt func() []int
	// Current returns the keys of the documents that may be found, sorted.
	Current func() []string
	// Entry visits what is stored with each passage of a document.
	Entry func(key string, visit func(ordinal int, stored []byte) error) error
	// Changes counts what changed in the collection.
	Changes uint64
	// Known is what is known of how often words are there.
	Known *Known

	mu   sync.Mutex
	lost map[string]time.Time // when hosts did not answer in time, those that have not answered since
}

var _ index.Searcher = (*Set)(nil)

// Timing of questions to other hosts.
const (
	// askFor is how long one host is waited for before another one is asked.
	askFor = 500 * time.Millisecond
	// rounds is how many hosts are tried for a shard. After the first one hosts may answer from an
	// older state: that a new document is missing is better than that all are, or than waiting.
	rounds = 3
	// restsFor is how long a host is not asked again that did not answer: a question asks several
	// times, and is not to wait each time.
	restsFor = 3 * time.Second
)

// Totals returns the sums over all shards.
func (s *Set) Totals() (out index.Totals) {
	for _, p := range s.Parts {
		out.Add(p.Totals)
	}
	return out
}

// Languages returns the languages of the passages, the most frequent first.
func (s *Set) Languages() []text.Language {
	totals := s.Totals()
	return totals.ByFrequency()
}

// Passages returns the number of passages that can be found.
func (s *Set) Passages() int { return s.Totals().Passages }

// Generation counts the changes.
func (s *Set) Generation() uint64 { return s.Changes }

// Keys returns the keys of all documents, sorted.
func (s *Set) Keys() []string { return s.Current() }

// Document visits the passages of a document.
func (s *Set) Document(key string, visit func(ordinal int, stored []byte) error) error {
	return s.Entry(key, visit)
}

// Correct looks for words of the query that no passage has.
func (s *Set) Correct(ctx context.Context, q *index.Query, known func(word string) bool) error {
	counts, _, err := s.count(ctx, q)
	if err != nil {
		return err
	}
	doubtful := q.Doubtful(counts, known)
	if len(doubtful) == 0 {
		return nil
	}
	r := request{Do: doNear}
	for _, t := range doubtful {
		r.Stems = append(r.Stems, q.Terms[t].Forms[0])
	}
	near := make([]index.Near, len(doubtful))
	_, err = s.gather(ctx, r, func(_ string, got *reply) error {
		if len(got.Near) != len(near) {
			return errShort
		}
		for i := range near {
			near[i].Add(got.Near[i])
		}
		return nil
	})
	if err != nil {
		return err
	}
	q.Take(doubtful, near)
	return nil
}

// errShort says that a host answered something else than it was asked.
var errShort = errors.New("the reply does not fit the request")

// count returns how often the terms of a query are there, and which shards were left out. What is known
// already is not asked again.
func (s *Set) count(ctx context.Context, q *index.Query) (index.Frequencies, *gap, error) {
	counts, missing := s.Known.of(q, s.Changes)
	left := &gap{shards: map[int]bool{}, hosts: map[string]bool{}}
	if len(missing) > 0 {
		sums := make([]int, len(missing))
		var err error
		left, err = s.gather(ctx, request{Do: doCount, Stems: missing}, func(_ string, got *reply) error {
			if len(got.Counts) != len(sums) {
				return errShort
			}
			for i, n := range got.Counts {
				sums[i] += n
			}
			return nil
		})
		if err != nil {
			return index.Frequencies{}, nil, err
		}
		for i, form := range missing {
			counts[form] = sums[i]
		}
		if len(left.shards) == 0 && !left.behind {
			s.Known.keep(missing, sums, s.Changes)
		}
	}
	return index.FrequenciesBy(q, func(form string) int { return counts[form] }), left, nil
}

// Search returns the best passages, and fills in the worth of the query's terms.
func (s *Set) Search(ctx context.Context, q *index.Query, top int) ([]index.Hit, error) {
	counts, before, err := s.count(ctx, q)
	if err != nil {
		return nil, err
	}
	totals := s.Totals()
	q.Weigh(totals, counts)
	r := request{Do: doSearch, Totals: totals, Top: top, Not: s.Dead()}
	r.write(q)
	if q.Keep != nil {
		r.Kept, r.Only = true, slices.DeleteFunc(s.Current(), func(key string) bool { return !q.Keep(key) })
	}
	var parts []index.Found
	in, from := map[string]int{}, map[string]string{} // shard and host by document
	left, err := s.gather(ctx, r, func(host string, got *reply) error {
		for k, hits := range got.Found {
			if len(got.Shards[k]) != len(hits) {
				return errShort
			}
			for i, hit := range hits {
				in[hit.Key], from[hit.Key] = got.Shards[k][i], host
			}
		}
		parts = append(parts, got.Found)
		return nil
	})
	if err != nil {
		return nil, err
	}
	hits := index.Merge(parts, top)
	if err := s.bring(ctx, hits, in, from, left); err != nil {
		return nil, err
	}
	left.join(before)
	for _, k := range s.Unbuilt() {
		left.shards[k] = true
	}
	q.LeftOut = index.LeftOut{Parts: len(left.shards), Of: max(len(s.Parts), s.Of), Hosts: slices.Sorted(maps.Keys(left.hosts))}
	return slices.DeleteFunc(hits, func(h index.Hit) bool { stored, err := h.Stored(); return err != nil || stored == nil }), nil
}

// passagesAtATime is how many passages are asked for in one message.
const passagesAtATime = 60

// bring fetches what is stored with the passages that were found. One that is gone meanwhile, or
// whose host is, stays without.
func (s *Set) bring(ctx context.Context, hits []index.Hit, in map[string]int, from map[string]string, left *gap) error {
	wanted := map[string][]int{} // by host
	for i, h := range hits {
		wanted[from[h.Key]] = append(wanted[from[h.Key]], i)
	}
	var asking sync.WaitGroup
	var mu sync.Mutex
	for host, all := range wanted {
		for some := range slices.Chunk(all, passagesAtATime) {
			asking.Go(func() {
				r := request{Collection: s.Collection, Do: doStored}
				needed := map[int]bool{}
				for _, i := range some {
					at := in[hits[i].Key]
					r.Passages = append(r.Passages, place{at, hits[i].Key, hits[i].Ordinal})
					if !needed[at] {
						needed[at] = true
						r.Parts = append(r.Parts, Part{Shard: at})
					}
				}
				got, err := s.ask(ctx, host, &r)
				mu.Lock()
				defer mu.Unlock()
				if err != nil || len(got.Stored) != len(some) {
					left.hosts[host] = true
					for at := range needed {
						left.shards[at] = true
					}
					return
				}
				for k, i := range some {
					hits[i] = hits[i].WithStored(got.Stored[k])
				}
			})
		}
	}
	asking.Wait()
	return ctx.Err()
}

// A gap is what could not be looked at.
type gap struct {
	shards map[int]bool
	hosts  map[string]bool
	behind bool // some were looked at in an older state
}

func (g *gap) join(o *gap) {
	maps.Copy(g.shards, o.shards)
	maps.Copy(g.hosts, o.hosts)
}

// gather asks about all shards, each at one of the hosts that have it, and at another one if that
// does not answer in time. take is called with each reply, one after another.
func (s *Set) gather(ctx context.Context, r request, take func(host string, got *reply) error) (*gap, error) {
	r.Collection = s.Collection
	left := &gap{shards: map[int]bool{}, hosts: map[string]bool{}}
	open := map[int]Part{}
	for _, p := range s.Parts {
		if p.Generation > 0 { // else it is empty
			open[p.Shard] = p
		}
	}
	tried, began := map[try]bool{}, time.Now()
	for n := range rounds {
		if n > 0 {
			r.Behind, left.behind = true, true
		}
		if n == rounds-1 {
			clear(tried)
		}
		asked := map[string][]Part{}
		for _, p := range open {
			if host := s.pick(p.Shard, tried, began); host != "" {
				asked[host] = append(asked[host], p)
				tried[try{host, p.Shard}] = true
			}
		}
		if len(asked) == 0 {
			break
		}
		if err := s.round(ctx, r, asked, open, left, take); err != nil {
			return nil, err
		}
		if len(open) == 0 {
			break
		}
	}
	s.mu.Lock()
	for at := range open {
		left.shards[at] = true
		for _, host := range s.Hosts(at) {
			if _, lost := s.lost[host]; lost {
				left.hosts[host] = true
			}
		}
	}
	s.mu.Unlock()
	if len(open) == 0 {
		clear(left.hosts) // others answered for them
	}
	return left, ctx.Err()
}

// A try is that a host was asked about a shard.
type try struct {
	host  string
	shard int
}

// pick returns the host to be asked for a shard: one that was not tried, and not lost before.
func (s *Set) pick(shard int, tried map[try]bool, began time.Time) string {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, host := range s.Hosts(shard) {
		at, lost := s.lost[host]
		if rests := lost && at.Before(began) && began.Sub(at) < restsFor; !rests && !tried[try{host, shard}] {
			return host
		}
	}
	return ""
}

// round asks some hosts at once. What is answered leaves open.
func (s *Set) round(ctx context.Context, r request, asked map[string][]Part, open map[int]Part, left *gap, take func(string, *reply) error) error {
	var asking sync.WaitGroup
	var mu sync.Mutex
	var failed error
	for host, parts := range asked {
		asking.Go(func() {
			mine := r
			mine.Parts = parts
			got, err := s.ask(ctx, host, &mine)
			mu.Lock()
			defer mu.Unlock()
			if err != nil || len(got.Missing) == len(parts) {
				left.hosts[host] = true
				return
			}
			if len(got.Missing) > 0 { // it answered for the others, which cannot be told apart
				left.hosts[host] = true
			}
			if err := take(host, got); err != nil {
				failed = fmt.Errorf("shard: host %s: %w", host, err)
				return
			}
			for _, p := range parts {
				if !slices.Contains(got.Missing, p.Shard) {
					delete(open, p.Shard)
				}
			}
		})
	}
	asking.Wait()
	return failed
}

// ask asks one host.
func (s *Set) ask(ctx context.Context, host string, r *request) (*reply, error) {
	within, cancel := context.WithTimeout(ctx, askFor)
	defer cancel()
	if host == s.Self {
		got := new(reply)
		if err := s.Holder.answer(ctx, r, got); err != nil {
			return nil, err
		}
		return got, nil
	}
	data, err := json.Marshal(r)
	if err != nil {
		return nil, fmt.Errorf("shard: %w", err)
	}
	answered, err := s.Ask(within, host, data)
	var got *reply
	if err == nil {
		got, err = decodeReply(answered)
	}
	if err == nil && got.Problem != "" {
		err = errors.New(got.Problem)
	}
	if ctx.Err() == nil {
		s.note(host, err != nil)
	}
	if err != nil {
		return nil, fmt.Errorf("shard: host %s: %w", host, err)
	}
	return got, nil
}

// note notes whether a host answered in time.
func (s *Set) note(host string, late bool) {
	s.mu.Lock()
	if s.lost == nil {
		s.lost = map[string]time.Time{}
	}
	if late {
		s.lost[host] = time.Now()
	} else {
		delete(s.lost, host)
	}
	s.mu.Unlock()
	s.Late(host, late)
}
