package fetch

import (
	"io"
	"net/url"
	"path"
	"slices"
	"strings"

	"golang.org/x/net/html"
)

// mostLinks is how many links of a page are followed.
const mostLinks = 1000

// Links returns the addresses of PDF files that a page links to on its own host, in the order of
// the page, each once.
func Links(page io.Reader, address string) ([]string, error) {
	base, err := url.Parse(address)
	if err != nil {
		return nil, err
	}
	var out []string
	for tokens := html.NewTokenizer(page); len(out) < mostLinks; {
		switch tokens.Next() {
		case html.ErrorToken:
			if err := tokens.Err(); err != io.EOF {
				return out, err
			}
			return out, nil
		case html.StartTagToken, html.SelfClosingTagToken:
			token := tokens.Token()
			if token.Data != "a" && token.Data != "area" {
				continue
			}
			for _, a := range token.Attr {
				if link := pdfOn(base, a); link != "" && !slices.Contains(out, link) {
					out = append(out, link)
				}
			}
		}
	}
	return out, nil
}

// pdfOn is the address of a PDF on the same host that an attribute names; else empty.
func pdfOn(base *url.URL, a html.Attribute) string {
	if a.Key != "href" {
		return ""
	}
	u, err := base.Parse(strings.TrimSpace(a.Val))
	if err != nil || u.Host != base.Host || !strings.EqualFold(path.Ext(u.Path), ".pdf") {
		return ""
	}
	u.Fragment = ""
	return u.String()
}
