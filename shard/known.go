package shard

import (
	"sync"

	"jardinet/index"
)

// Known remembers how often words are in a collection, as long as nothing changes: most questions ask for
// words that were asked for before, and need not ask the shards how often they are there.
type Known struct {
	mu      sync.Mutex
	changes uint64
	counts  map[string]int
}

// mostKnown is how many words are remembered.
const mostKnown = 50_000

// of returns what is known of the forms of a query, and those of which nothing is.
func (k *Known) of(q *index.Query, changes uint64) (counts map[string]int, missing []string) {
	counts = map[string]int{}
	k.mu.Lock()
	defer k.mu.Unlock()
	look := func(form string) {
		if _, seen := counts[form]; seen {
			return
		}
		n, known := k.counts[form]
		if known = known && k.changes == changes; !known {
			missing = append(missing, form)
		}
		counts[form] = n
	}
	for t := range q.Terms {
		for _, form := range q.Terms[t].Forms {
			look(form)
		}
		for i := range q.Terms[t].Expansions {
			look(q.Terms[t].Expansions[i].Form)
		}
	}
	return counts, missing
}

// keep remembers how often forms are there.
func (k *Known) keep(forms []string, counts []int, changes uint64) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.changes != changes || k.counts == nil || len(k.counts) > mostKnown {
		k.changes, k.counts = changes, map[string]int{}
	}
	for i, form := range forms {
		k.counts[form] = counts[i]
	}
}
