package api

// Hooks are the programs that are told what happens in a collection.
type Hooks struct {
	Hooks []Hook   `json:"hooks"`
	Names []string `json:"names"` // that the operator has given, which settings may use
}

// A Hook is one of them.
type Hook struct {
	Name    string   `json:"name"`
	Events  []string `json:"events"`
	Signed  bool     `json:"signed"`            // there is a secret of its name
	Waiting int      `json:"waiting"`           // deliveries that are still to be made
	Problem string   `json:"problem,omitempty"` // of the last one, if it did not arrive
}
