package pdfium

import (
	"bytes"
	"context"
	"encoding/gob"
	"errors"
	"fmt"
	"io"
	"jardinet/pdf"
	"os"
	"os/exec"
	"strconv"
	"time"
)

// Environment of a reader process.
const (
	readerCache  = "JARDINET_READER_CACHE"
	readerMemory = "JARDINET_READER_MEMORY"
)

// startTime bounds the start of a reader, which compiles PDFium the first time.
const startTime = 2 * time.Minute

// wornSize is the memory in bytes beyond which a reader is replaced:
// WebAssembly memory grows and never shrinks.
const wornSize = 384 << 20

// A reader is the engine's end of a reader process. It serves one goroutine at
// a time.
type reader struct {
	file    *File
	process *exec.Cmd
	stdin   io.WriteCloser
	send    *gob.Encoder
	receive *gob.Decoder
	memory  uint32 // as last reported
	broken  bool
}

// start runs a reader and waits until it is ready.
func (e *Engine) start(ctx context.Context) (*reader, error) {
	e.starting.Lock()
	defer e.starting.Unlock()
	program, err := os.Executable()
	if err != nil {
		return nil, fmt.Errorf("pdf: find the program to start a reader: %w", err)
	}
	cmd := exec.Command(program)
	// Nothing else of the environment, in which there may be secrets.
	cmd.Env = []string{readerCache + "=" + e.Cache, readerMemory + "=" + strconv.Itoa(e.Memory), "TMPDIR=" + os.TempDir()}
	cmd.Stderr = os.Stderr
	stdin, err := cmd.StdinPipe()
	if err != nil {
		return nil, fmt.Errorf("pdf: start a reader: %w", err)
	}
	stdout, err := cmd.StdoutPipe()
	if err != nil {
		return nil, fmt.Errorf("pdf: start a reader: %w", err)
	}
	if err := cmd.Start(); err != nil {
		return nil, fmt.Errorf("pdf: start a reader: %w", err)
	}
	r := &reader{process: cmd, stdin: stdin, send: gob.NewEncoder(stdin), receive: gob.NewDecoder(stdout)}
	if _, err := r.next(ctx, startTime); err != nil {
		r.kill()
		return nil, fmt.Errorf("pdf: start a reader: %w", err)
	}
	return r, nil
}

// kill ends the process at once.
func (r *reader) kill() {
	r.broken = true
	r.process.Process.Kill()
	r.process.Wait()
}

// worn tells whether the reader should be replaced.
func (r *reader) worn() bool { return r.broken || r.memory > wornSize }

// request sends one request without waiting for the reply.
func (r *reader) request(q request) error {
	if err := r.send.Encode(q); err != nil {
		r.broken = true
		return errCrash
	}
	return nil
}

var (
	errCrash = errors.New("the decoder crashed")
	errSlow  = errors.New("it takes too long")
)

// next waits for a reply. A reader that says nothing within the limit, or whose
// caller gives up, is killed: nothing else stops a decoder in a loop.
func (r *reader) next(ctx context.Context, limit time.Duration) (*reply, error) {
	limited, cancel := context.WithTimeoutCause(ctx, limit, errSlow)
	defer cancel()
	stop := context.AfterFunc(limited, func() { r.process.Process.Kill() })
	var answer reply
	err := r.receive.Decode(&answer)
	if !stop() || err != nil {
		r.broken = true
		switch {
		case ctx.Err() != nil:
			return nil, ctx.Err()
		case errors.Is(context.Cause(limited), errSlow):
			return nil, errSlow
		}
		return nil, errCrash
	}
	r.memory = answer.Memory
	r.broken = answer.Broken
	return &answer, answer.err()
}

// open makes f the reader's file.
func (r *reader) open(ctx context.Context, f *File) error {
	if r.file == f {
		return nil
	}
	r.file = nil
	if err := r.request(request{Open: f.path, Password: f.password}); err != nil {
		return err
	}
	answer, err := r.next(ctx, f.engine.PageTime)
	if errors.Is(err, errSlow) || errors.Is(err, errCrash) {
		return fmt.Errorf("%w: opening it: %w", pdf.ErrDamaged, err)
	}
	if err != nil {
		return err
	}
	r.file = f
	if f.Info.Pages == 0 {
		f.Info = answer.Info
	}
	return nil
}

// A request asks a reader for one thing.
type request struct {
	Open        string // path of the file to open
	Password    string
	First, Last int     // pages to read, one reply each
	DPI         float64 // with First: draw that page instead
	Attachment  int     // from 1: hand it over
}

// A reply is what a reader answers. Glyphs go as the bytes that they are in
// memory, both ends being one program.
type reply struct {
	Kind   int // 1 + index in kinds; 0 when all went well
	Text   string
	Broken bool
	Memory uint32

	Info    pdf.Info
	Page    pdf.Page
	Glyphs  []byte
	Picture []byte // PNG

	Attachment []byte
}

// kinds are the errors that keep their identity on the way.
var kinds = []error{pdf.ErrDamaged, pdf.ErrPassword, pdf.ErrSecurity, pdf.ErrTooLarge, pdf.ErrPageBroke, pdf.ErrNotPDF}

// A readerError is an error as a reader told it.
type readerError struct {
	text string
	kind error
}

func (e *readerError) Error() string { return e.text }
func (e *readerError) Unwrap() error { return e.kind }

func (a *reply) err() error {
	if a.Kind == 0 {
		return nil
	}
	return &readerError{a.Text, kinds[a.Kind-1]}
}

func (a *reply) fail(err error) {
	a.Kind, a.Text = 1, err.Error()
	for i, kind := range kinds {
		if errors.Is(err, kind) {
			a.Kind = i + 1
		}
	}
}

// ServeReader turns the process into a reader if an engine started it as one,
// and then does not return. Every main, and every TestMain of a package whose
// tests read PDFs, calls it first.
func ServeReader() {
	cache, asked := os.LookupEnv(readerCache)
	if !asked {
		return
	}
	memory, _ := strconv.Atoi(os.Getenv(readerMemory))
	if err := serveReader(cache, memory, os.Stdin, os.Stdout); err != nil {
		fmt.Fprintln(os.Stderr, "pdf reader:", err)
		os.Exit(1)
	}
	os.Exit(0)
}

// serveReader answers requests until the engine closes its end. A goroutine
// of its own watches for that, so that a busy reader ends with the engine.
func serveReader(cache string, memory int, in io.Reader, out io.Writer) error {
	instance, err := newInstance(cache, memory)
	if err != nil {
		return err
	}
	bound(uint64(memory+ownMemory) << 20) // which compiling, the first time, may pass
	requests := make(chan request)
	go func() {
		receive := gob.NewDecoder(in)
		for {
			var q request
			if receive.Decode(&q) != nil {
				os.Exit(0)
			}
			requests <- q
		}
	}()
	send := gob.NewEncoder(out)
	if err := send.Encode(&reply{}); err != nil {
		return err
	}
	for q := range requests {
		if err := instance.answer(q, send); err != nil {
			return err
		}
	}
	return nil
}

// answer serves one request. The error is the pipe's.
func (in *instance) answer(q request, send *gob.Encoder) error {
	respond := func(a reply, err error) error {
		if err != nil {
			a.fail(err)
		}
		a.Broken, a.Memory = in.broken, in.module.Memory().Size()
		return send.Encode(&a)
	}
	switch {
	case q.Open != "":
		info, err := in.openPath(q.Open, q.Password)
		return respond(reply{Info: info}, err)
	case q.Attachment > 0:
		data, err := in.attachment(q.Attachment - 1)
		return respond(reply{Attachment: data}, err)
	case q.DPI > 0:
		var picture bytes.Buffer
		err := in.drawPNG(&picture, q.First, q.DPI)
		return respond(reply{Picture: picture.Bytes()}, err)
	}
	for number := q.First; number <= q.Last; number++ {
		page, err := in.page(number)
		if err != nil {
			page = &pdf.Page{Number: number}
		}
		glyphs := glyphBytes(page.Glyphs)
		page.Glyphs = nil
		if err := respond(reply{Page: *page, Glyphs: glyphs}, err); err != nil || in.broken {
			return err
		}
	}
	return nil
}
