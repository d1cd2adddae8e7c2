package service

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"jardinet/folder"
	"jardinet/parcel"
	"jardinet/pdfium"
	"jardinet/rendition"
	"jardinet/store"
)

// Put keeps a file like Add. Of an archive each file is kept, and with an e-mail what is attached
// to it; what of it cannot be a document is told with its reason.
func (s *Service) Put(ctx context.Context, collection, name string, r io.Reader) (added []Added, refused []Refused, err error) {
	buffered := bufio.NewReaderSize(r, headLength)
	head, err := buffered.Peek(headLength)
	if err != nil && !errors.Is(err, io.EOF) {
		return nil, nil, fmt.Errorf("%s: %w", name, err)
	}
	if isPDF(head) {
		one, err := s.Add(ctx, collection, name, buffered)
		return list(one), nil, err
	}
	f, err := os.CreateTemp(filepath.Join(s.Data, "incoming"), "parcel-")
	if err != nil {
		return nil, nil, fmt.Errorf("service: %w", err)
	}
	defer os.Remove(f.Name())
	defer f.Close()
	size, err := io.Copy(f, io.LimitReader(buffered, parcel.MostBytes))
	if err != nil {
		return nil, nil, fmt.Errorf("%s: %w", name, err)
	}
	if parcel.IsArchive(f, size) {
		err := parcel.Archive(f, size, s.taker(ctx, collection, name, "", &added, &refused))
		if err == nil && len(added)+len(refused) == 0 {
			err = fmt.Errorf("%s: the archive holds no file: %w", name, ErrRefused)
		}
		return added, refused, refusing(name, err)
	}
	if _, err := f.Seek(0, io.SeekStart); err != nil {
		return nil, nil, fmt.Errorf("service: %w", err)
	}
	one, err := s.Add(ctx, collection, name, f)
	if err != nil || size > mostOther {
		return list(one), nil, err
	}
	data, err := os.ReadFile(f.Name())
	if err == nil && rendition.Named(name, data) == rendition.Mail {
		// Many mails have an attachment of the same name.
		before := strings.TrimSuffix(cleanName(name), filepath.Ext(name)) + "/"
		err = parcel.Attachments(data, s.taker(ctx, collection, name, before, &added, &refused))
	}
	return append(list(one), added...), refused, refusing(name, err)
}

func list(one *Added) []Added {
	if one == nil {
		return nil
	}
	return []Added{*one}
}

// refusing makes what is wrong with a parcel a reason not to take it.
func refusing(name string, err error) error {
	if errors.Is(err, parcel.ErrTooLarge) || errors.Is(err, parcel.ErrDamaged) {
		return fmt.Errorf("%s: %w: %w", name, err, ErrRefused)
	}
	return err
}

// addAttachments adds the files within a PDF as documents of their own, the first time that it is
// read: once they are in, they are as any other. What is no document is left in the file.
func (s *Service) addAttachments(ctx context.Context, c *collection, d *store.Document, file *pdfium.File) {
	before := strings.TrimSuffix(d.Name, filepath.Ext(d.Name)) + "/"
	for i, name := range file.Attachments {
		data, err := file.Attachment(ctx, i)
		if err == nil {
			_, err = s.Add(ctx, c.Name, folder.Name(before+cleanName(name)), bytes.NewReader(data))
		}
		if err != nil {
			s.Log.Warn("an attachment is not taken in", "document", d.Name, "attachment", name, "error", err)
		}
	}
}

// taker adds the files of a parcel as they come; what they are called begins with `before`.
func (s *Service) taker(ctx context.Context, collection, parcelName, before string, added *[]Added, refused *[]Refused) parcel.Take {
	return func(name string, file io.Reader) error {
		one, err := s.Add(ctx, collection, folder.Name(before+name), file)
		if errors.Is(err, ErrRefused) {
			*refused = append(*refused, Refused{Name: parcelName, Reason: fmt.Sprintf("%s: %v", parcelName, err)})
			return nil
		}
		if err == nil {
			one.Within = parcelName
			*added = append(*added, *one)
		}
		return err
	}
}
