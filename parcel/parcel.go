// Package parcel takes files apart that hold others: ZIP archives, and e-mails with attachments.
//
// What is taken out is bounded by number and size, whatever a file says of itself, so that a
// small file cannot become a large load. Archives within archives stay closed.
package parcel

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"errors"
	"fmt"
	"io"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net/mail"
	"path"
	"slices"
	"strings"
)

// Limits of a parcel.
const (
	MostFiles = 5000
	MostBytes = 2 << 30 // of all files together
	mostDepth = 8       // of the parts of an e-mail in each other
)

// Reasons for which a parcel is not taken apart.
var (
	ErrTooLarge = errors.New("the parcel holds too much")
	ErrDamaged  = errors.New("the archive is damaged")
)

// within are the parts by which a document that is packed as an archive is told from one.
var within = []string{"[Content_Types].xml", "mimetype", "META-INF/container.xml"}

// IsArchive tells whether a file is an archive of others, and not a document that is packed as one.
func IsArchive(file io.ReaderAt, size int64) bool {
	z, err := zip.NewReader(file, size)
	if err != nil {
		return false
	}
	return !slices.ContainsFunc(z.File, func(f *zip.File) bool { return slices.Contains(within, f.Name) })
}

// A Take is given each file in its turn, with its name: its path in the parcel. What is not read
// of it is passed over. An error ends the taking.
type Take func(name string, file io.Reader) error

// Archive gives out the files of a ZIP archive, in its order, without hidden ones, folders and
// what is locked by a password.
func Archive(file io.ReaderAt, size int64, take Take) error {
	z, err := zip.NewReader(file, size)
	if err != nil {
		return fmt.Errorf("%w: %w", ErrDamaged, err)
	}
	left := int64(MostBytes)
	for n, f := range z.File {
		if n >= MostFiles {
			return fmt.Errorf("%w: %d files, and %d are taken at most; split it into parts", ErrTooLarge, len(z.File), MostFiles)
		}
		if f.FileInfo().IsDir() || hidden(f.Name) || f.Flags&1 != 0 {
			continue
		}
		r, err := f.Open()
		if err != nil {
			return fmt.Errorf("%w: %s: %w", ErrDamaged, f.Name, err)
		}
		counted := &counter{r: r, left: left}
		err = take(f.Name, counted)
		r.Close()
		if counted.over {
			return fmt.Errorf("%w: unpacked it is larger than %d GiB; split it into parts", ErrTooLarge, MostBytes>>30)
		}
		if err != nil {
			return err
		}
		left = counted.left
	}
	return nil
}

// hidden tells whether a file is there for a system, not for people.
func hidden(name string) bool {
	for _, part := range strings.Split(name, "/") {
		if strings.HasPrefix(part, ".") || part == "__MACOSX" {
			return true
		}
	}
	return path.Base(name) == "Thumbs.db"
}

// A counter reads no more than is left.
type counter struct {
	r    io.Reader
	left int64
	over bool
}

func (c *counter) Read(p []byte) (int, error) {
	n, err := c.r.Read(p)
	if c.left -= int64(n); c.left < 0 {
		c.over = true
		return 0, ErrTooLarge
	}
	return n, err
}

// Attachments gives out what is attached to an e-mail; one that is no e-mail has nothing.
func Attachments(data []byte, take Take) error {
	m, err := mail.ReadMessage(bytes.NewReader(data))
	if err != nil {
		return nil
	}
	return attachments(m.Header.Get("Content-Type"), m.Body, 0, take)
}

func attachments(kind string, r io.Reader, depth int, take Take) error {
	media, params, err := mime.ParseMediaType(kind)
	if err != nil || depth > mostDepth || !strings.HasPrefix(media, "multipart/") {
		return nil
	}
	words := new(mime.WordDecoder)
	for parts := multipart.NewReader(r, params["boundary"]); ; {
		p, err := parts.NextRawPart()
		if err != nil {
			return nil // what came before is there; the mail itself says what it is
		}
		name := p.FileName()
		if decoded, err := words.DecodeHeader(name); err == nil {
			name = decoded
		}
		if name == "" {
			if err := attachments(p.Header.Get("Content-Type"), p, depth+1, take); err != nil {
				return err
			}
			continue
		}
		if p.Header.Get("Content-Id") != "" && strings.HasPrefix(p.Header.Get("Content-Type"), "image/") {
			continue // stands in the mail's text
		}
		if err := take(name, contents(p)); err != nil {
			return err
		}
	}
}

func contents(p *multipart.Part) io.Reader {
	switch strings.ToLower(p.Header.Get("Content-Transfer-Encoding")) {
	case "base64":
		return base64.NewDecoder(base64.StdEncoding, p)
	case "quoted-printable":
		return quotedprintable.NewReader(p)
	}
	return p
}
