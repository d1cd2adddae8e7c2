package api

import "time"

// A Source is where documents of a collection come from: an address on the web or a folder.
type Source struct {
	ID   string `json:"id"`
	Kind string `json:"kind"` // "address", "folder" or "webdav"
	// At is the address, or the folder's path on the machine of the service.
	At      string `json:"at"`
	Links   bool   `json:"links,omitempty"`   // of an address: the PDF files that its page links to are fetched too
	Minutes int    `json:"minutes,omitempty"` // between two looks; of an address, 0 for one look alone
	Secret  string `json:"secret,omitempty"`  // of a server by WebDAV: name of the secret "person:passphrase"
	// The rest is filled in by the service.
	Checked time.Time `json:"checked,omitzero"`
	Files   int       `json:"files"`             // that came from there and are there
	Problem string    `json:"problem,omitempty"` // of the last look
}
