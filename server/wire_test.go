package server

import (
	"testing"
	"time"
)

func TestWhatTricklesInIsNotWaitedFor(t *testing.T) {
	begun := time.Now()
	for _, test := range []struct {
		received    int64
		after, want time.Duration
	}{
		{0, 0, bodyPause},
		{20, 25 * time.Second, bodyPause + 20*time.Second/slowest},
		{1 << 20, 25 * time.Second, 25*time.Second + bodyPause},
		{1 << 30, time.Hour, time.Hour + bodyPause},
	} {
		b := impatient{begun: begun, received: test.received}
		if got := b.due(begun.Add(test.after)).Sub(begun); got != test.want {
			t.Errorf("after %v with %d bytes the next is due at %v, not %v", test.after, test.received, got, test.want)
		}
	}
}
