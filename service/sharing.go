package service

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"unicode/utf8"

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
	return s.reload(ctx, c)
}

// longestDescription is how long a collection's description may be, in characters.
const longestDescription = 500

// SetDescription says what a collection is for.
func (s *Service) SetDescription(ctx context.Context, collection, description string) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	description = strings.Join(strings.Fields(description), " ")
	if n := utf8.RuneCountInString(description); n > longestDescription {
		return fmt.Errorf("the description has %d characters; say it in %d: %w", n, longestDescription, ErrInvalid)
	}
	if err := s.store.SetDescription(ctx, c.ID, description); err != nil {
		return err
	}
	return s.reload(ctx, c)
}

// asker returns the id of whose conversations a caller sees in a collection, and whether those
// of all others too.
func (c *collection) asker(ctx context.Context) (id string, others bool) {
	who := access.From(ctx)
	return who.ID, c.sharing.Load().Conversations && who.In(c.ID) >= access.Owner
}
