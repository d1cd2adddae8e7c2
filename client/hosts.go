package client

import (
	"context"

	"jardinet/api"
)

// Hosts returns the hosts that share their records, as the one that is asked sees it.
func (c *Client) Hosts(ctx context.Context) (*api.Hosts, error) {
	out := new(api.Hosts)
	return out, c.get(ctx, "/hosts", out)
}
