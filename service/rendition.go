package service

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"

	"jardinet/ledger"
	"jardinet/rendition"
	"jardinet/store"
)

// mostOther is how large a file may be that is no PDF, in bytes: it is read as a whole.
const mostOther = 32 << 20

// readable returns a file that is no PDF, if it is of a kind that can be set on pages; else it
// is refused.
func readable(name string, head []byte, file io.Reader) (io.Reader, error) {
	data, err := io.ReadAll(io.LimitReader(file, mostOther+1))
	if err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	if len(data) > mostOther {
		return nil, fmt.Errorf("%s is no PDF but %s larger than %d MiB; split it into parts: %w", name, kindOf(head), mostOther>>20, ErrRefused)
	}
	if rendition.Named(name, data) == "" {
		return nil, fmt.Errorf("%s is no PDF but %s; export it as PDF and add that: %w", name, kindOf(head), ErrRefused)
	}
	return bytes.NewReader(data), nil
}

// paged returns the path of a PDF with a document's pages: its original, or, for a file of another
// kind, what it is set as. That is made when it is first needed.
func (s *Service) paged(ctx context.Context, d *store.Document) (string, error) {
	original, err := s.original(ctx, d.SHA256)
	if err != nil {
		return "", err
	}
	pdf, err := beginsAsPDF(original)
	if err != nil {
		return "", err
	}
	path := s.store.RenditionPath(d.SHA256)
	if pdf {
		if _, err := os.Stat(path); err == nil || s.fetchUnlocked(ctx, d.SHA256) { // the original asks for a password
			return path, nil
		}
		return original, nil
	}
	if _, err := os.Stat(path); err == nil || !errors.Is(err, os.ErrNotExist) {
		return path, err
	}
	data, err := os.ReadFile(original)
	if err != nil {
		return "", fmt.Errorf("service: %w", err)
	}
	text, err := rendition.Read(d.Name, data)
	if err != nil {
		return "", fmt.Errorf("service: %s: %w", d.Name, err)
	}
	pages, err := rendition.PDF(text)
	if err != nil {
		return "", fmt.Errorf("service: %s: %w", d.Name, err)
	}
	return path, s.store.KeepRendition(d.SHA256, pages)
}

// fetchUnlocked fetches the pages of a file that asks for a password from the other hosts, and tells
// whether there are any.
func (s *Service) fetchUnlocked(ctx context.Context, sum string) bool {
	return s.hosts != nil && s.hosts.Fetch(ctx, ledger.Unlocked+sum, s.store.RenditionPath(sum)) == nil
}

func beginsAsPDF(path string) (bool, error) {
	f, err := os.Open(path)
	if err != nil {
		return false, fmt.Errorf("service: %w", err)
	}
	defer f.Close()
	head := make([]byte, headLength)
	n, err := io.ReadFull(f, head)
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) && !errors.Is(err, io.EOF) {
		return false, fmt.Errorf("service: %w", err)
	}
	return isPDF(head[:n]), nil
}
