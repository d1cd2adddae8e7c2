// Package shard makes one index of parts that lie on several hosts.
//
// The documents of a collection are parted by their names into shards, and each shard is an index on
// a few hosts. A search asks the hosts that have the shards twice: how often the words of the query
// are in each (which says what they are worth among all), and then for the best passages by that. So
// what is found has the scores, and stands in the order, of a single index. A host that does not
// answer in time is left out for another one that has the shard; if there is none the search says
// which shards it did without.
package shard

import (
	"hash/fnv"

	"jardinet/index"
)

// Of returns in which of n shards the document of a name is; all of its versions are in the same.
func Of(collection, name string, n int) int {
	h := fnv.New32a()
	h.Write([]byte(collection))
	h.Write([]byte{0})
	h.Write([]byte(name))
	return int(h.Sum32() % uint32(max(1, n)))
}

// A Part is a shard in some state, with the sums that ranking needs of it.
type Part struct {
	Shard      int          `json:"shard"`
	Generation uint64       `json:"generation"`
	Totals     index.Totals `json:"-"`
}

// What a host may be asked to do.
const (
	doCount  = "count"  // how often stems are there
	doNear   = "near"   // what is near to stems
	doSearch = "search" // the best passages
	doStored = "stored" // what is stored with passages
)

// A request asks a host about parts of a collection.
type request struct {
	Collection string       `json:"collection"`
	Parts      []Part       `json:"parts"`
	Do         string       `json:"do"`
	Terms      []index.Term `json:"terms,omitempty"`
	Stems      []string     `json:"stems,omitempty"`  // to be counted, or to be near to
	Vector     []byte       `json:"vector,omitempty"` // 32-bit floats, the least byte first
	Totals     index.Totals `json:"totals"`
	Top        int          `json:"top,omitempty"`
	Only       []string     `json:"only,omitempty"` // keys of documents, if Kept
	Kept       bool         `json:"kept,omitempty"`
	Not        []string     `json:"not,omitempty"` // keys of documents to leave out
	Phrases    [][]string   `json:"phrases,omitempty"`
	Passages   []place      `json:"passages,omitempty"`
	Behind     bool         `json:"behind,omitempty"` // a shard in an older state will do
}

type place struct {
	Shard   int    `json:"shard"`
	Key     string `json:"key"`
	Ordinal int    `json:"ordinal"`
}

// A reply is what a host says.
type reply struct {
	Problem string       `json:"problem,omitempty"`
	Missing []int        `json:"missing,omitempty"` // shards that it does not have in this state
	Counts  []int        `json:"counts,omitempty"`  // passages with each stem
	Near    []index.Near `json:"near,omitempty"`

	Found  index.Found `json:"-"`
	Shards [3][]int    `json:"-"` // in which each that was found is
	Stored [][]byte    `json:"-"`
}
