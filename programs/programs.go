// Package programs lets programs ask that speak other open protocols than the service's own API:
// models and the programs around them by the Model Context Protocol (modelcontextprotocol.io), and
// chat programs by the JSON of chat completions.
//
// All of it goes through the API as its caller, so that rights, limits and the audit hold here as
// they do there.
package programs

import (
	"fmt"
	"net/url"
	"strings"

	"jardinet/answer"
)

// link is the address of a page in the console, at the address that the service is reached by.
func link(base, collection, document string, page int) string {
	return fmt.Sprintf("%s/c/%s/pages/%s/%d", strings.TrimRight(base, "/"), url.PathEscape(collection), url.PathEscape(document), page)
}

// A Cited is a place that proves a statement.
type Cited struct {
	Number   int    `json:"number"`
	Document string `json:"document" jsonschema:"file name"`
	Title    string `json:"title,omitempty"`
	Page     int    `json:"page" jsonschema:"physical page, counted from 1"`
	Label    string `json:"label,omitempty" jsonschema:"page number as printed, where it differs"`
	Section  string `json:"section,omitempty"`
	Quote    string `json:"quote" jsonschema:"the words on the page"`
	Link     string `json:"link" jsonschema:"address of the page, for people"`
}

func cited(base, collection string, all []answer.Citation) []Cited {
	out := []Cited{}
	for _, c := range all {
		out = append(out, Cited{c.Number, c.Document, c.Title, c.Page, c.Label, strings.Join(c.Section, " › "), c.Quote, link(base, collection, c.Document, c.Page)})
	}
	return out
}
