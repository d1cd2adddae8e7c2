package parcel

import (
	"archive/zip"
	"bytes"
	"errors"
	"io"
	"slices"
	"testing"
)

func archive(t *testing.T, files ...string) []byte {
	t.Helper()
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for i := 0; i < len(files); i += 2 {
		w, err := z.Create(files[i])
		if err != nil {
			t.Fatal(err)
		}
		io.WriteString(w, files[i+1])
	}
	z.Close()
	return out.Bytes()
}

func TestArchive(t *testing.T) {
	data := archive(t, "ponds/lily.txt", "Lily", ".hidden", "x", "__MACOSX/a", "x", "ponds/", "", "fern.txt", "Fern")
	var got []string
	err := Archive(bytes.NewReader(data), int64(len(data)), func(name string, file io.Reader) error {
		text, err := io.ReadAll(file)
		got = append(got, name+"="+string(text))
		return err
	})
	if want := []string{"ponds/lily.txt=Lily", "fern.txt=Fern"}; err != nil || !slices.Equal(got, want) {
		t.Errorf("taken were %q, error %v", got, err)
	}
	if !IsArchive(bytes.NewReader(data), int64(len(data))) {
		t.Error("an archive is not told")
	}
	if book := archive(t, "mimetype", "application/epub+zip"); IsArchive(bytes.NewReader(book), int64(len(book))) {
		t.Error("a book is taken for an archive")
	}
	if err := Archive(bytes.NewReader(data[:40]), 40, nil); !errors.Is(err, ErrDamaged) {
		t.Errorf("half an archive: %v", err)
	}
	var many []string
	for range MostFiles + 1 {
		many = append(many, "a.txt", "")
	}
	data = archive(t, many...)
	if err := Archive(bytes.NewReader(data), int64(len(data)), func(string, io.Reader) error { return nil }); !errors.Is(err, ErrTooLarge) {
		t.Errorf("too many files: %v", err)
	}
	if _, err := io.ReadAll(&counter{r: bytes.NewReader(make([]byte, 100)), left: 50}); !errors.Is(err, ErrTooLarge) {
		t.Errorf("more than is left: %v", err)
	}
}

const letter = "From: edda@halvern.example\r\nSubject: Plans\r\nContent-Type: multipart/mixed; boundary=x\r\n\r\n" +
	"--x\r\nContent-Type: multipart/related; boundary=y\r\n\r\n--y\r\nContent-Type: text/plain\r\n\r\nSee there.\r\n" +
	"--y\r\nContent-Type: image/png; name=logo.png\r\nContent-Id: <1>\r\nContent-Disposition: inline; filename=logo.png\r\n\r\nx\r\n--y--\r\n" +
	"--x\r\nContent-Type: text/plain\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment; filename=\"=?utf-8?q?=C3=A9tang.txt?=\"\r\n\r\nUG9uZA==\r\n--x--\r\n"

func TestAttachments(t *testing.T) {
	var got []string
	err := Attachments([]byte(letter), func(name string, file io.Reader) error {
		text, err := io.ReadAll(file)
		got = append(got, name+"="+string(text))
		return err
	})
	if want := []string{"étang.txt=Pond"}; err != nil || !slices.Equal(got, want) {
		t.Errorf("attached are %q, error %v", got, err)
	}
}
