package answer

import "time"

// A clock measures stages.
type clock struct{ start, last time.Time }

func newClock() *clock {
	now := time.Now()
	return &clock{now, now}
}

// lap returns the milliseconds since the last lap.
func (c *clock) lap() float64 {
	now := time.Now()
	defer func() { c.last = now }()
	return float64(now.Sub(c.last).Microseconds()) / 1000
}

func (c *clock) total() float64 { return float64(c.last.Sub(c.start).Microseconds()) / 1000 }
