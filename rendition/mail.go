package rendition

import (
	"bytes"
	"encoding/base64"
	"io"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	netmail "net/mail"
	"strings"

	"golang.org/x/net/html/charset"
)

// isMail tells whether a text begins as an e-mail does.
func isMail(data []byte) bool {
	m, err := netmail.ReadMessage(bytes.NewReader(data[:min(len(data), 64<<10)]))
	return err == nil && m.Header.Get("From") != "" && (m.Header.Get("Subject") != "" || m.Header.Get("Date") != "")
}

// readMail reads an e-mail: who wrote it to whom and when, and its text. What is attached is named.
func readMail(data []byte) (*Text, error) {
	m, err := netmail.ReadMessage(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	words := new(mime.WordDecoder)
	header := func(name string) string {
		s, err := words.DecodeHeader(m.Header.Get(name))
		if err != nil {
			return m.Header.Get(name)
		}
		return s
	}
	t := &Text{Title: header("Subject")}
	t.heading(1, t.Title)
	var about []string
	for _, name := range []string{"From", "To", "Cc", "Date"} {
		if value := header(name); value != "" {
			about = append(about, name+": "+value)
		}
	}
	t.paragraph(strings.Join(about, "\n"))
	return t, t.body(m.Header.Get("Content-Type"), m.Header.Get("Content-Transfer-Encoding"), m.Body, 0)
}

// mostParts is how deep the parts of an e-mail may stand in each other.
const mostParts = 8

// body adds a part of an e-mail. Of alternatives the first that can be read is taken.
func (t *Text) body(kind, coded string, r io.Reader, depth int) error {
	if kind == "" {
		kind = "text/plain"
	}
	media, params, err := mime.ParseMediaType(kind)
	if err != nil || depth > mostParts {
		return nil // not for reading
	}
	if strings.HasPrefix(media, "multipart/") {
		return t.parts(media == "multipart/alternative", multipart.NewReader(r, params["boundary"]), depth)
	}
	switch strings.ToLower(coded) {
	case "base64":
		r = base64.NewDecoder(base64.StdEncoding, r)
	case "quoted-printable":
		r = quotedprintable.NewReader(r)
	}
	if label := params["charset"]; label != "" {
		if known, err := charset.NewReaderLabel(label, r); err == nil {
			r = known
		}
	}
	data, err := io.ReadAll(io.LimitReader(r, mostUnpacked))
	if err != nil {
		return err
	}
	var part *Text
	switch media {
	case "text/html":
		part, err = readHTML(data)
	case "text/plain":
		part, err = readPlain(bytes.ToValidUTF8(data, []byte("�")))
	default:
		return nil
	}
	if err == nil {
		t.Blocks = append(t.Blocks, part.Blocks...)
	}
	return err
}

func (t *Text) parts(alternative bool, r *multipart.Reader, depth int) error {
	for {
		p, err := r.NextRawPart()
		if err == io.EOF {
			return nil
		}
		if err != nil {
			return err
		}
		if name := p.FileName(); name != "" {
			t.paragraph("Attached: " + name)
			continue
		}
		before := len(t.Blocks)
		if err := t.body(p.Header.Get("Content-Type"), p.Header.Get("Content-Transfer-Encoding"), p, depth+1); err != nil {
			return err
		}
		if alternative && len(t.Blocks) > before {
			return nil
		}
	}
}
