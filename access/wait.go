package access

import "time"

// A Wait says that a caller asks too much too soon.
type Wait struct {
	For    time.Duration
	Reason string
}

func (w *Wait) Error() string { return w.Reason }
