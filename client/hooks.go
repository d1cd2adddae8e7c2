package client

import (
	"context"
	"net/http"

	"jardinet/api"
)

// Hooks tells which programs are told what happens in a collection.
func (c *Client) Hooks(ctx context.Context, collection string) (*api.Hooks, error) {
	out := new(api.Hooks)
	return out, c.get(ctx, in(collection, "hooks"), out)
}

// SetHook has a program told of some events; the name of its address is the operator's.
func (c *Client) SetHook(ctx context.Context, collection, hook string, events []string) (*api.Hooks, error) {
	out := new(api.Hooks)
	return out, c.send(ctx, http.MethodPut, in(collection, "hooks", hook), map[string]any{"events": events}, out)
}

// RemoveHook has a program told nothing more.
func (c *Client) RemoveHook(ctx context.Context, collection, hook string) error {
	return c.do(ctx, http.MethodDelete, in(collection, "hooks", hook), "", nil, nil)
}
