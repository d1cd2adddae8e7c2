package service

import (
	"context"
	"encoding/json"
	"fmt"

	"jardinet/access"
	"jardinet/api"
)

// SetSharing says who else sees what is asked in a collection.
func (s *Service) SetSharing(ctx context.Context, collection string, sharing api.Sharing) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	data, err := json.Marshal(sharing)
	if err != nil {
		return fmt.Errorf("service: %w", err)
	}
	if err := s.store.SetSharing(ctx, c.ID, data); err != nil {
		return err
	}
	c.sharing.Store(&sharing)
	return nil
}

// asker returns the id of whose conversations a caller sees in a collection, and whether those
// of all others too.
func (c *collection) asker(ctx context.Context) (id string, others bool) {
	who := access.From(ctx)
	return who.ID, c.sharing.Load().Conversations && who.In(c.ID) >= access.Owner
}
