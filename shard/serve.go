package shard

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"math"

	"jardinet/index"
)

// A Holder answers what other hosts ask about the shards that this one has.
type Holder struct {
	// Index returns a shard that is at least in the state of a generation; false if this host does
	// not have it so, and does not have it in a moment either.
	Index func(ctx context.Context, collection string, shard int, generation uint64) (*index.Index, bool)
	// Holds returns what tells whether a stored passage holds phrases.
	Holds func(phrases [][]string) func(stored []byte) bool
}

// Answer answers a request of another host.
func (h *Holder) Answer(ctx context.Context, data []byte) []byte {
	var r request
	var out reply
	if err := json.Unmarshal(data, &r); err != nil {
		out.Problem = fmt.Sprintf("the request cannot be read: %v", err)
	} else if err := h.answer(ctx, &r, &out); err != nil {
		out = reply{Problem: err.Error()}
	}
	return out.encode()
}

func (h *Holder) answer(ctx context.Context, r *request, out *reply) error {
	q := r.query(h.Holds)
	out.Counts, out.Near = make([]int, len(r.Stems)), make([]index.Near, len(r.Stems))
	out.Stored = make([][]byte, len(r.Passages))
	var found []index.Found
	in := map[string]int{} // shard by document
	for _, part := range r.Parts {
		if r.Behind {
			part.Generation = 0
		}
		x, ok := h.Index(ctx, r.Collection, part.Shard, part.Generation)
		if !ok {
			out.Missing = append(out.Missing, part.Shard)
			continue
		}
		switch r.Do {
		case doCount:
			for i, n := range x.Counts(r.Stems) {
				out.Counts[i] += n
			}
		case doNear:
			for i, stem := range r.Stems {
				out.Near[i].Add(x.Near(stem))
			}
		case doSearch:
			f, err := x.Part(ctx, q, r.Totals, r.Top)
			if err != nil {
				return err
			}
			found = append(found, f)
			for _, hits := range f {
				for _, hit := range hits {
					in[hit.Key] = part.Shard
				}
			}
		case doStored:
			if err := storedIn(x, part.Shard, r.Passages, out.Stored); err != nil {
				return err
			}
		default:
			return fmt.Errorf("it is asked to do %q; upgrade this host", r.Do)
		}
	}
	if r.Do == doSearch {
		out.Found = index.Join(found, r.Top)
		for k, hits := range out.Found {
			for _, hit := range hits {
				out.Shards[k] = append(out.Shards[k], in[hit.Key])
			}
		}
	}
	return nil
}

// storedIn sets what a shard stores with those of some passages that are in it.
func storedIn(x *index.Index, shard int, passages []place, out [][]byte) error {
	for i, p := range passages {
		if p.Shard != shard {
			continue
		}
		stored, err := x.Stored(p.Key, p.Ordinal)
		if err != nil {
			return err
		}
		out[i] = stored
	}
	return nil
}

// query returns what is searched for.
func (r *request) query(holds func([][]string) func([]byte) bool) *index.Query {
	q := &index.Query{Terms: r.Terms, Phrases: r.Phrases}
	for i := 0; i+4 <= len(r.Vector); i += 4 {
		q.Vector = append(q.Vector, math.Float32frombits(binary.LittleEndian.Uint32(r.Vector[i:])))
	}
	if r.Kept || len(r.Not) > 0 {
		only, not := setOf(r.Only), setOf(r.Not)
		q.Keep = func(key string) bool { return (!r.Kept || only[key]) && !not[key] }
	}
	if len(r.Phrases) > 0 {
		q.Verify = holds(r.Phrases)
	}
	return q
}

func setOf(keys []string) map[string]bool {
	out := make(map[string]bool, len(keys))
	for _, k := range keys {
		out[k] = true
	}
	return out
}

// write puts a query into a request.
func (r *request) write(q *index.Query) {
	r.Terms, r.Phrases = q.Terms, q.Phrases
	r.Vector = make([]byte, 0, 4*len(q.Vector))
	for _, v := range q.Vector {
		r.Vector = binary.LittleEndian.AppendUint32(r.Vector, math.Float32bits(v))
	}
}
