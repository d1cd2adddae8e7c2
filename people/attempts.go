package people

import "encoding/json"

// Who tries one passphrase after another has to wait longer each time, on whichever host: each tells
// the others of vain attempts. They are in no record, and a host that was not there knows nothing of them.

// attemptsSubject is where hosts tell each other of attempts to sign in.
const attemptsSubject = "attempts"

// attempts are those to sign in.
type attempts struct {
	Vain      []string `json:"vain,omitempty"`      // the name and the address
	Succeeded string   `json:"succeeded,omitempty"` // the name
}

// spread tells the other hosts of attempts, if there are any.
func (r *Registry) spread(a attempts) {
	data, err := json.Marshal(a)
	if err == nil {
		err = r.service.Spread(attemptsSubject, data)
	}
	if err != nil {
		r.service.Log.Warn("the other hosts could not be told of an attempt to sign in", "error", err)
	}
}

// hearOfAttempts notes those at other hosts.
func (r *Registry) hearOfAttempts() error {
	return r.service.Hear(attemptsSubject, func(data []byte) {
		var a attempts
		if json.Unmarshal(data, &a) != nil { // of another version of the program, perhaps
			return
		}
		if len(a.Vain) > 0 {
			r.fail(a.Vain)
		}
		r.succeed(a.Succeeded)
	})
}
