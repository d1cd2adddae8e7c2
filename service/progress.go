package service

import (
	"context"
	"time"
)

// A spell is the time since there was last nothing to take in.
type spell struct {
	began time.Time
	pages int64 // that had been read before it
	bytes int64 // of the files done with in it
}

// tellable is how long a spell lasts before it tells how long the rest will take.
const tellable = 2 * time.Second

func (in *intake) isPaused(collection string) bool {
	in.mu.Lock()
	defer in.mu.Unlock()
	return in.paused[collection]
}

// Pause keeps a collection's queued documents waiting, or lets them go on. What is being read
// is read to its end.
func (s *Service) Pause(ctx context.Context, collection string, paused bool) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	if err := s.store.SetPaused(ctx, c.ID, paused); err != nil {
		return err
	}
	return s.reload(ctx, c)
}

func (in *intake) pause(collection string, paused bool) {
	in.mu.Lock()
	defer in.mu.Unlock()
	in.paused[collection] = paused
	in.wake.Broadcast()
}

// IntakeOf tells how far a collection's documents on their way in have come. How long the
// rest takes is reckoned from all that is taken in at the time, since the readers are shared.
func (s *Service) IntakeOf(_ context.Context, collection string) (*Intake, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	in := s.intake
	in.mu.Lock()
	defer in.mu.Unlock()
	out := &Intake{Paused: in.paused[c.ID]}
	done, left := float64(in.spell.bytes), 0.0
	for _, j := range in.jobs {
		if j.collection == c.ID {
			out.ToGo++
		}
		if in.paused[j.collection] {
			continue
		}
		share := float64(j.done.Load()) / float64(max(j.of.Load(), 1))
		done += share * float64(j.size)
		left += (1 - share) * float64(j.size)
	}
	passed := time.Since(in.spell.began)
	if out.ToGo == 0 || out.Paused || passed < tellable {
		return out, nil
	}
	out.PagesPerSecond = float64(in.pages.Load()-in.spell.pages) / passed.Seconds()
	if done > 0 {
		seconds := left / done * passed.Seconds()
		out.SecondsLeft = &seconds
	}
	return out, nil
}
