package index

import (
	"bufio"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"io"
	"os"

	"golang.org/x/sync/errgroup"
)

// An entry of a segment file's directory.
type entry struct {
	id     uint32
	sum    uint32 // CRC-32C
	offset int64
	length int64
}

// A fileWriter writes a segment file section by section, so that none has to
// be in memory as a whole.
type fileWriter struct {
	file    diskFile
	to      *bufio.Writer
	at      int64
	entries []entry
	failed  error
}

// newFileWriter leaves room for the header of a file of so many sections.
func newFileWriter(file diskFile, sections int) *fileWriter {
	w := &fileWriter{file: file, to: bufio.NewWriterSize(file, 1<<18)}
	w.pad(align(int64(headerSize + sections*entrySize + 4)))
	return w
}

func (w *fileWriter) pad(to int64) {
	if _, err := w.to.Write(make([]byte, to-w.at)); err != nil && w.failed == nil {
		w.failed = err
	}
	w.at = to
}

// begin starts a section; what is written until the next one belongs to it.
func (w *fileWriter) begin(id uint32) {
	w.pad(align(w.at))
	w.entries = append(w.entries, entry{id: id, offset: w.at})
}

func (w *fileWriter) Write(p []byte) (int, error) {
	e := &w.entries[len(w.entries)-1]
	e.sum = crc32.Update(e.sum, castagnoli, p)
	e.length += int64(len(p))
	w.at += int64(len(p))
	if _, err := w.to.Write(p); err != nil && w.failed == nil {
		w.failed = err
	}
	return len(p), w.failed
}

// section writes a section that is in memory.
func (w *fileWriter) section(id uint32, data []byte) {
	w.begin(id)
	w.Write(data)
}

// finish writes the header and returns the first error of all.
func (w *fileWriter) finish() error {
	if err := w.to.Flush(); err != nil && w.failed == nil {
		w.failed = err
	}
	if w.failed != nil {
		return w.failed
	}
	head := append([]byte{}, segmentMagic...)
	head = binary.LittleEndian.AppendUint32(head, segmentVersion)
	head = binary.LittleEndian.AppendUint32(head, uint32(len(w.entries)))
	for _, e := range w.entries {
		head = binary.LittleEndian.AppendUint32(head, e.id)
		head = binary.LittleEndian.AppendUint32(head, e.sum)
		head = binary.LittleEndian.AppendUint64(head, uint64(e.offset))
		head = binary.LittleEndian.AppendUint64(head, uint64(e.length))
	}
	head = binary.LittleEndian.AppendUint32(head, crc32.Checksum(head, castagnoli))
	_, err := w.file.WriteAt(head, 0)
	return err
}

func align(n int64) int64 { return (n + 7) &^ 7 }

// readDirectory checks a file's header and returns its directory.
func readDirectory(data []byte) ([]entry, error) {
	if len(data) < headerSize+4 || string(data[:8]) != segmentMagic {
		return nil, fmt.Errorf("it is not a segment file")
	}
	if v := binary.LittleEndian.Uint32(data[8:]); v != segmentVersion {
		return nil, fmt.Errorf("it has version %d, this program reads %d", v, segmentVersion)
	}
	count := int(binary.LittleEndian.Uint32(data[12:]))
	end := headerSize + count*entrySize
	if count > 1000 || len(data) < end+4 {
		return nil, fmt.Errorf("its header is cut short")
	}
	if crc32.Checksum(data[:end], castagnoli) != binary.LittleEndian.Uint32(data[end:]) {
		return nil, fmt.Errorf("its header is damaged")
	}
	var out []entry
	for i := range count {
		raw := data[headerSize+i*entrySize:]
		offset, length := binary.LittleEndian.Uint64(raw[8:]), binary.LittleEndian.Uint64(raw[16:])
		if offset > uint64(len(data)) || length > uint64(len(data))-offset {
			return nil, fmt.Errorf("section %d is cut short", binary.LittleEndian.Uint32(raw))
		}
		out = append(out, entry{binary.LittleEndian.Uint32(raw), binary.LittleEndian.Uint32(raw[4:]), int64(offset), int64(length)})
	}
	return out, nil
}

// verify checks the sums of all sections. It reads the file instead of touching
// the mapping, which would make all of it resident.
func verify(path string, entries []entry) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	defer f.Close()
	var group errgroup.Group
	for _, e := range entries {
		group.Go(func() error {
			sum := crc32.New(castagnoli)
			if _, err := io.CopyBuffer(sum, io.NewSectionReader(f, e.offset, e.length), make([]byte, 1<<18)); err != nil {
				return err
			}
			if sum.Sum32() != e.sum {
				return fmt.Errorf("section %d is damaged", e.id)
			}
			return nil
		})
	}
	return group.Wait()
}
