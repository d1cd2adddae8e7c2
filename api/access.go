package api

import "time"

// A Session says who is calling, and what they may do.
type Session struct {
	Name          string            `json:"name,omitempty"` // empty: not signed in
	Kind          string            `json:"kind,omitempty"` // "person", "key", or "open" before anybody has been let in
	Administrator bool              `json:"administrator"`
	Rights        map[string]string `json:"rights"`             // "reader", "editor" or "owner", by collection
	Provider      string            `json:"provider,omitempty"` // name of where people sign in instead
}

// A Person may sign in.
type Person struct {
	Name          string            `json:"name"`
	Administrator bool              `json:"administrator"`
	Elsewhere     bool              `json:"elsewhere,omitempty"` // signs in at the provider
	Created       time.Time         `json:"created"`
	Used          *time.Time        `json:"used,omitempty"`
	Rights        map[string]string `json:"rights"`
}

// A NewPerson is to be let in.
type NewPerson struct {
	Name          string            `json:"name"`
	Passphrase    string            `json:"passphrase"`
	Administrator bool              `json:"administrator,omitempty"`
	Rights        map[string]string `json:"rights,omitempty"`
}

// A PersonChange changes what is given.
type PersonChange struct {
	Passphrase    *string `json:"passphrase,omitempty"`
	Administrator *bool   `json:"administrator,omitempty"`
}

// A Key lets a program in.
type Key struct {
	Name          string            `json:"name"`
	Administrator bool              `json:"administrator"`
	Asks          bool              `json:"asks,omitempty"` // may ask and see cited pages, and nothing else
	Created       time.Time         `json:"created"`
	Expires       *time.Time        `json:"expires,omitempty"`
	Used          *time.Time        `json:"used,omitempty"`
	Rights        map[string]string `json:"rights"`
	Secret        string            `json:"secret,omitempty"` // once, when it is made
}

// A NewKey is to be made.
type NewKey struct {
	Name          string            `json:"name"`
	Administrator bool              `json:"administrator,omitempty"`
	Asks          bool              `json:"asks,omitempty"` // may ask and see cited pages, and nothing else
	Expires       *time.Time        `json:"expires,omitempty"`
	Rights        map[string]string `json:"rights,omitempty"`
}

// A Holder has a right in a collection.
type Holder struct {
	Name  string `json:"name"`
	Kind  string `json:"kind"`
	Right string `json:"right"`
}

// Sharing says who else sees what is asked in a collection. Readers are told.
type Sharing struct {
	Conversations bool `json:"conversations"` // owners can read kept conversations
	Questions     bool `json:"questions"`     // questions are written into the audit
}

// An AuditState says whether the audit is whole.
type AuditState struct {
	First   int64  `json:"first"` // number of the first entry that is kept
	Last    int64  `json:"last"`  // of the last that follows from it
	Sum     string `json:"sum"`   // hash of that one; written down elsewhere, it shows later whether the end was cut off
	Whole   bool   `json:"whole"`
	Problem string `json:"problem,omitempty"`
}

// A Damage is something kept that is not what was kept.
type Damage struct {
	Collection string `json:"collection,omitempty"`
	Document   string `json:"document,omitempty"`
	What       string `json:"what"` // with what to do
	Mended     bool   `json:"mended"`
}
