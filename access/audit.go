package access

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"time"
)

// An Entry of the audit says who did what, when, from where, on which object, with which
// outcome. Each holds the hash of the one before it, so that one that was changed, taken out
// or put in between shows.
type Entry struct {
	Number     int64     `json:"number"`
	At         time.Time `json:"at"`
	Who        string    `json:"who"` // a name; empty for one who is not signed in
	Kind       Kind      `json:"kind"`
	Address    string    `json:"address"`
	Operation  string    `json:"operation"`
	Collection string    `json:"collection,omitempty"`
	Object     string    `json:"object,omitempty"`
	Outcome    int       `json:"outcome"` // HTTP status
	Question   string    `json:"question,omitempty"`
	Before     string    `json:"before"` // hash of the entry before, in hexadecimal
}

// Sum returns the hash of an entry as it is kept, in JSON.
func Sum(entry []byte) string {
	sum := sha256.Sum256(entry)
	return hex.EncodeToString(sum[:])
}

// A Chain checks entries one after another.
type Chain struct {
	Number int64  // of the last entry seen
	Sum    string // of it
}

// Next checks that an entry as it is kept follows the last.
func (c *Chain) Next(entry []byte) error {
	var e Entry
	if err := json.Unmarshal(entry, &e); err != nil {
		return fmt.Errorf("audit: the entry after %d cannot be read: %w", c.Number, err)
	}
	if e.Number != c.Number+1 {
		return fmt.Errorf("audit: after entry %d comes entry %d; what was between has been taken out", c.Number, e.Number)
	}
	if e.Before != c.Sum {
		return fmt.Errorf("audit: entry %d does not follow from entry %d; one of the two has been changed", e.Number, c.Number)
	}
	c.Number, c.Sum = e.Number, Sum(entry)
	return nil
}
