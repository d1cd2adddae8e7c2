package client

import (
	"context"
	"fmt"
	"net/http"
	"net/url"

	"jardinet/api"
)

// Digest returns what a document holds at a glance.
func (c *Client) Digest(ctx context.Context, collection, document string) (*api.Digest, error) {
	out := new(api.Digest)
	return out, c.get(ctx, in(collection, "documents", document, "digest"), out)
}

// DigestAs returns a digest, or one part of it, as Markdown or its days as a calendar.
func (c *Client) DigestAs(ctx context.Context, collection, document, format, part string) ([]byte, error) {
	query := url.Values{"format": {format}}
	if part != "" {
		query.Set("part", part)
	}
	return c.bytes(ctx, in(collection, "documents", document, "digest")+"?"+query.Encode())
}

// EditDigest drops a line of a digest or words it anew; nil takes that back.
func (c *Client) EditDigest(ctx context.Context, collection, document, line string, edit *api.DigestEdit) error {
	path := in(collection, "documents", document, "digest", line)
	if edit == nil {
		return c.do(ctx, http.MethodDelete, path, "", nil, nil)
	}
	return c.send(ctx, http.MethodPut, path, edit, nil)
}

// Sheet returns questions that a document answers, with the words that answer them.
func (c *Client) Sheet(ctx context.Context, collection, document string) (*api.Sheet, error) {
	out := new(api.Sheet)
	return out, c.get(ctx, in(collection, "documents", document, "sheet"), out)
}

// Plain returns pages of a document in plain words; to is 0 for as many as are said at once.
func (c *Client) Plain(ctx context.Context, collection, document string, from, to int) (*api.Plain, error) {
	out := new(api.Plain)
	path := in(collection, "documents", document, "plain") + fmt.Sprintf("?from=%d", from)
	if to > 0 {
		path += fmt.Sprintf("&to=%d", to)
	}
	return out, c.get(ctx, path, out)
}

// Changes tells what a document says otherwise than an earlier one.
func (c *Client) Changes(ctx context.Context, collection, before, after string) (*api.Changes, error) {
	out := new(api.Changes)
	return out, c.get(ctx, in(collection, "documents", after, "changes")+"?since="+url.QueryEscape(before), out)
}

// Summary returns the sentences that say most of some documents, or of all if none are named.
func (c *Client) Summary(ctx context.Context, collection, length string, scope api.Scope) ([]api.Quote, error) {
	query := some(scope)
	query.Set("length", length)
	var out struct{ Sentences []api.Quote }
	return out.Sentences, c.get(ctx, in(collection, "summary")+"?"+query.Encode(), &out)
}

// List returns all that some documents have of a kind, or all documents if none are named.
func (c *Client) List(ctx context.Context, collection, kind string, scope api.Scope) (*api.List, error) {
	query := some(scope)
	query.Set("of", kind)
	out := new(api.List)
	return out, c.get(ctx, in(collection, "list")+"?"+query.Encode(), out)
}

// some says which documents are meant.
func some(scope api.Scope) url.Values {
	query := url.Values{"document": scope.Documents, "tag": scope.Tags}
	for name, value := range scope.Where {
		query.Add("where", name+"="+value)
	}
	return query
}
