package cluster

import "context"

// Compact hands in the records of this host as a snapshot, and lets go of the changes that were in the
// one before: hosts that are a little behind still find those that follow it.
func (c *Cluster) Compact(ctx context.Context) error {
	before, err := c.ledger.Latest(ctx)
	if err != nil {
		return err
	}
	if err := c.snapshot(ctx, c.store); err != nil {
		return err
	}
	if before == nil || before.Number == 0 {
		return nil
	}
	return c.ledger.Trim(ctx, before.Number)
}
