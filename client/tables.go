package client

import (
	"context"
	"net/url"
	"strconv"

	"jardinet/api"
)

// Tables lists the tables of a document, without their rows.
func (c *Client) Tables(ctx context.Context, collection, document string) ([]api.Table, error) {
	var out struct{ Tables []api.Table }
	return out.Tables, c.get(ctx, in(collection, "documents", document, "tables"), &out)
}

// Table returns one table of a document, counted from 1, with its rows; joined, with those of all tables
// of the collection that have the same columns.
func (c *Client) Table(ctx context.Context, collection, document string, number int, joined bool) (*api.Table, error) {
	out := new(api.Table)
	return out, c.get(ctx, in(collection, "documents", document, "tables", strconv.Itoa(number))+"?joined="+strconv.FormatBool(joined), out)
}

// TableAs returns a table as a file in a format: csv or xlsx; or drawn as svg or png, with what the
// query says of the chart.
func (c *Client) TableAs(ctx context.Context, collection, document string, number int, format string, query url.Values) ([]byte, error) {
	if query == nil {
		query = url.Values{}
	}
	query.Set("format", format)
	return c.bytes(ctx, in(collection, "documents", document, "tables", strconv.Itoa(number))+"?"+query.Encode())
}
