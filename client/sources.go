package client

import (
	"context"
	"io"
	"net/http"

	"jardinet/api"
)

// Sources lists the addresses and folders that a collection's documents come from.
func (c *Client) Sources(ctx context.Context, collection string) ([]api.Source, error) {
	var out struct{ Sources []api.Source }
	return out.Sources, c.get(ctx, in(collection, "sources"), &out)
}

// AddSource adds an address or a folder, and looks at it.
func (c *Client) AddSource(ctx context.Context, collection string, s api.Source) (*api.Source, error) {
	out := new(api.Source)
	given := map[string]any{"kind": s.Kind, "at": s.At, "links": s.Links, "minutes": s.Minutes, "secret": s.Secret}
	return out, c.post(ctx, in(collection, "sources"), given, out)
}

// LookAtSource looks at a source now.
func (c *Client) LookAtSource(ctx context.Context, collection, source string) (*api.Source, error) {
	out := new(api.Source)
	return out, c.post(ctx, in(collection, "sources", source, "look"), nil, out)
}

// RemoveSource forgets a source; what came from it stays.
func (c *Client) RemoveSource(ctx context.Context, collection, source string) error {
	return c.do(ctx, http.MethodDelete, in(collection, "sources", source), "", nil, nil)
}

// SetFields gives a document some fields beside those that it has.
func (c *Client) SetFields(ctx context.Context, collection, document string, fields map[string]string) (*api.Document, error) {
	out := new(api.Document)
	return out, c.send(ctx, http.MethodPut, in(collection, "documents", document, "fields"), map[string]any{"fields": fields}, out)
}

// ImportFields gives many documents fields, from CSV or JSON; it tells how many, and which names no
// document has.
func (c *Client) ImportFields(ctx context.Context, collection string, list io.Reader) (given int, missing []string, err error) {
	var out struct {
		Given   int
		Missing []string
	}
	err = c.do(ctx, http.MethodPut, in(collection, "fields"), "text/csv", list, &out)
	return out.Given, out.Missing, err
}

// AskAcross asks several collections one question, or all that the key may read if none is named.
func (c *Client) AskAcross(ctx context.Context, collections []string, ask api.Ask) ([]api.Across, error) {
	var out struct{ Answers []api.Across }
	body := struct {
		api.Ask
		Collections []string `json:"collections,omitempty"`
	}{ask, collections}
	return out.Answers, c.post(ctx, "/ask", body, &out)
}

// Unlock has a document read that asks for a password.
func (c *Client) Unlock(ctx context.Context, collection, document, password string) error {
	return c.post(ctx, in(collection, "documents", document, "unlock"), map[string]string{"password": password}, nil)
}
