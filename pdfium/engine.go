// Package pdfium reads PDF files: glyphs, marks, outline, labels, and pictures of pages.
//
// PDFium does the decoding, compiled to WebAssembly, in reader processes of its
// own: copies of the running program that ServeReader takes over. A file that
// breaks the decoder breaks one reader and nothing else: its memory is capped,
// each page has a time limit, and a reader that traps or overruns is killed and
// replaced. (Deadlines inside WebAssembly were measured to make reading 3.5
// times slower; a process can be killed for nothing.) PDFium is
// single-threaded, so an Engine keeps one reader a core and hands pages to
// whichever already has the file open.
package pdfium

import (
	"context"
	"errors"
	"fmt"
	"runtime"
	"sync"
	"time"
)

// Options bound what an Engine may use. Zero values mean the defaults.
type Options struct {
	// Cache is a directory for compiled code. With it a second start takes
	// a fraction of a second in place of several.
	Cache    string
	Readers  int           // default: one a core
	Memory   int           // MiB a reader; default 768
	PageTime time.Duration // default 20 s
	FileSize int64         // bytes; default 256 MiB
}

func (o Options) withDefaults() Options {
	if o.Readers <= 0 {
		o.Readers = runtime.GOMAXPROCS(0)
	}
	if o.Memory <= 0 {
		o.Memory = 768
	}
	if o.PageTime <= 0 {
		o.PageTime = 20 * time.Second
	}
	if o.FileSize <= 0 {
		o.FileSize = 256 << 20
	}
	return o
}

// An Engine owns the readers. It may be used by many goroutines.
type Engine struct {
	Options
	starting sync.Mutex // one start at a time: the second finds a warm cache

	mu      sync.Mutex
	idle    []*reader
	made    int
	waiting []*waiter
	closed  bool
}

// A waiter wants a reader, best one that has file open.
type waiter struct {
	file  *File
	ready chan *reader // nil sent: make a new one
}

// NewEngine returns an engine without readers; they are started as pages are
// asked for.
func NewEngine(opts Options) *Engine { return &Engine{Options: opts.withDefaults()} }

// Warm starts one reader, which compiles PDFium into the cache if that has not
// been done, so that the first file does not wait for it.
func (e *Engine) Warm(ctx context.Context) error {
	r, err := e.acquire(ctx, nil, false)
	if err != nil {
		return err
	}
	e.release(r)
	return nil
}

// Close ends all readers. Calls that are under way may fail.
func (e *Engine) Close() error {
	e.mu.Lock()
	e.closed = true
	waiting, idle := e.waiting, e.idle
	e.waiting, e.idle = nil, nil
	e.mu.Unlock()
	for _, w := range waiting {
		close(w.ready)
	}
	for _, r := range idle {
		r.kill()
	}
	return nil
}

// retries is how often what a reader died over is tried again with a new one. It may have
// died for a reason that is not the file's, such as memory that ran out.
const retries = 2

// take returns a reader with f open, waiting for one if all are busy; who waits urgently is
// served before the others.
func (e *Engine) take(ctx context.Context, f *File, urgent bool) (*reader, error) {
	for try := 0; ; try++ {
		r, err := e.acquire(ctx, f, urgent)
		if err != nil {
			return nil, err
		}
		if err = r.open(ctx, f); err == nil {
			return r, nil
		}
		e.release(r)
		if !errors.Is(err, errCrash) || try == retries {
			return nil, err
		}
	}
}

// wanted tells whether somebody waits for a reader.
func (e *Engine) wanted() bool {
	e.mu.Lock()
	defer e.mu.Unlock()
	return len(e.waiting) > 0
}

// acquire returns a reader, best one that has f open, starting one if there may
// be more.
func (e *Engine) acquire(ctx context.Context, f *File, urgent bool) (*reader, error) {
	r, err := e.reserve(ctx, f, urgent)
	if err != nil || r != nil {
		return r, err
	}
	// One that dies as it begins has not been given anything yet that could be at fault.
	for try := 0; ; try++ {
		if r, err = e.start(ctx); err == nil {
			return r, nil
		}
		if !errors.Is(err, errCrash) || try == retries {
			e.release(nil)
			return nil, err
		}
	}
}

// reserve returns an idle reader or the right to make one (nil, nil).
func (e *Engine) reserve(ctx context.Context, f *File, urgent bool) (*reader, error) {
	e.mu.Lock()
	if e.closed {
		e.mu.Unlock()
		return nil, fmt.Errorf("pdf: the engine is closed")
	}
	if r := e.pick(f); r != nil {
		e.mu.Unlock()
		return r, nil
	}
	if e.made < e.Readers {
		e.made++
		e.mu.Unlock()
		return nil, nil
	}
	w := &waiter{file: f, ready: make(chan *reader, 1)}
	if urgent {
		e.waiting = append([]*waiter{w}, e.waiting...)
	} else {
		e.waiting = append(e.waiting, w)
	}
	e.mu.Unlock()
	select {
	case r, ok := <-w.ready:
		if !ok {
			return nil, fmt.Errorf("pdf: the engine is closed")
		}
		return r, nil
	case <-ctx.Done():
		e.abandon(w)
		return nil, ctx.Err()
	}
}

// pick takes an idle reader, best the one that has f open.
func (e *Engine) pick(f *File) *reader {
	if len(e.idle) == 0 {
		return nil
	}
	at := len(e.idle) - 1
	for i, r := range e.idle {
		if r.file == f {
			at = i
		}
	}
	r := e.idle[at]
	e.idle = append(e.idle[:at], e.idle[at+1:]...)
	return r
}

// abandon withdraws a waiter, passing on what it may have been given.
func (e *Engine) abandon(w *waiter) {
	e.mu.Lock()
	for i, other := range e.waiting {
		if other == w {
			e.waiting = append(e.waiting[:i], e.waiting[i+1:]...)
			e.mu.Unlock()
			return
		}
	}
	e.mu.Unlock()
	if r, ok := <-w.ready; ok {
		e.release(r)
	}
}

// release gives a reader back. A broken or bloated one is thrown away; a
// waiter for the same file is served first, which spares opening files again.
func (e *Engine) release(r *reader) {
	if r != nil && r.worn() {
		r.kill()
		r = nil
	}
	e.mu.Lock()
	defer e.mu.Unlock()
	if e.closed && r != nil {
		r.kill()
		return
	}
	if len(e.waiting) == 0 {
		if r == nil {
			e.made--
		} else {
			e.idle = append(e.idle, r)
		}
		return
	}
	next := 0
	for i, w := range e.waiting {
		if r != nil && w.file == r.file {
			next = i
			break
		}
	}
	w := e.waiting[next]
	e.waiting = append(e.waiting[:next], e.waiting[next+1:]...)
	w.ready <- r
}
