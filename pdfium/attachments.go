package pdfium

import (
	"context"
	"fmt"
	"strings"

	"jardinet/pdf"
)

// Bounds on what is taken out of a file.
const (
	maxAttachments  = 200
	largestAttached = 64 << 20 // bytes
)

// Attachment returns the bytes of one of the file's attachments, by its place in Info.Attachments.
func (f *File) Attachment(ctx context.Context, i int) ([]byte, error) {
	if i < 0 || i >= len(f.Attachments) {
		return nil, fmt.Errorf("pdf: there is no attachment %d of %d", i+1, len(f.Attachments))
	}
	r, err := f.engine.take(ctx, f, false)
	if err != nil {
		return nil, err
	}
	defer f.engine.release(r)
	if err := r.request(request{Attachment: i + 1}); err != nil {
		return nil, err
	}
	answer, err := r.next(ctx, f.engine.PageTime)
	if err != nil {
		return nil, fmt.Errorf("attachment %s: %w", f.Attachments[i], err)
	}
	return answer.Attachment, nil
}

// attachments lists the names of the files within the open one.
func (in *instance) attachments() ([]string, error) {
	n, err := in.call("FPDFDoc_GetAttachmentCount", uint64(in.doc))
	if err != nil {
		return nil, err
	}
	var out []string
	for i := range min(max(int(int32(n)), 0), maxAttachments) {
		handle, err := in.call("FPDFDoc_GetAttachment", uint64(in.doc), uint64(i))
		if err != nil {
			return nil, err
		}
		name := ""
		if handle != 0 {
			name, err = in.utf16(func(at, size uint64) (uint64, error) {
				return in.call("FPDFAttachment_GetName", handle, at, size)
			})
			if err != nil {
				return nil, err
			}
		}
		out = append(out, cut(strings.TrimSpace(name), longestTitle))
	}
	return out, nil
}

// attachment reads one of them, nil if nothing is there.
func (in *instance) attachment(i int) ([]byte, error) {
	handle, err := in.call("FPDFDoc_GetAttachment", uint64(in.doc), uint64(i))
	if err != nil || handle == 0 {
		return nil, err
	}
	at := uint64(in.scratch)
	ok, err := in.call("FPDFAttachment_GetFile", handle, 0, 0, at)
	if err != nil || uint32(ok) == 0 {
		return nil, err
	}
	size, _ := in.module.Memory().ReadUint32Le(in.scratch)
	if size == 0 {
		return nil, nil
	}
	if size > largestAttached {
		return nil, fmt.Errorf("%w: %d MiB, the limit is %d MiB", pdf.ErrTooLarge, size>>20, largestAttached>>20)
	}
	buffer, err := in.alloc(int(size))
	if err != nil {
		return nil, err
	}
	defer in.free(buffer)
	ok, err = in.call("FPDFAttachment_GetFile", handle, uint64(buffer), uint64(size), at)
	if err != nil || uint32(ok) == 0 {
		return nil, err
	}
	data, _ := in.module.Memory().Read(buffer, size)
	return append([]byte(nil), data...), nil
}
