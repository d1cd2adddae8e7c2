package pdfium

import (
	"context"
	"fmt"
	"jardinet/pdf"
	"runtime"
	"unicode/utf16"

	"github.com/klippa-app/go-pdfium/webassembly/imports"
	"github.com/tetratelabs/wazero"
	"github.com/tetratelabs/wazero/api"
	"github.com/tetratelabs/wazero/experimental"
	"github.com/tetratelabs/wazero/imports/wasi_snapshot_preview1"

	_ "unsafe" // for go:linkname

	_ "github.com/klippa-app/go-pdfium/webassembly" // carries the module
)

// The module is driven directly, since the package that carries it offers only
// calls that allocate and lock a character at a time; it keeps the bytes to
// itself, hence the link by name. TestModule fails if it ever moves.
//
//go:linkname pdfiumWasm github.com/klippa-app/go-pdfium/webassembly.pdfiumWasm
var pdfiumWasm []byte

// scratchSize is room for the out-parameters and strings of one call.
const scratchSize = 8 << 10

// An instance is PDFium inside a reader process, with at most one file open.
type instance struct {
	module  api.Module
	funcs   map[string]api.Function
	glyph   glyphFuncs
	stack   [16]uint64
	scratch uint32

	buffer uint32 // the file's bytes
	doc    uint32
	pages  int
	tagged bool
	fonts  []pdf.Font
	index  map[uint32]int32 // PDFium's font to index in fonts
	broken bool
}

// glyphFuncs are the calls made for each character, looked up once.
type glyphFuncs struct {
	unicode, looseBox, origin, object api.Function
}

// newInstance compiles PDFium, or loads it from the cache, and starts it with
// at most memory MiB.
func newInstance(cacheDir string, memory int) (*instance, error) {
	ctx := experimental.WithCompilationWorkers(context.Background(), runtime.GOMAXPROCS(0))
	config := wazero.NewRuntimeConfig().
		WithCoreFeatures(api.CoreFeaturesV2 | experimental.CoreFeaturesExceptionHandling).
		WithMemoryLimitPages(uint32(memory * 16)) // 64 KiB each
	if cacheDir != "" {
		cache, err := wazero.NewCompilationCacheWithDir(cacheDir)
		if err != nil {
			return nil, fmt.Errorf("open the compiled-code cache %s: %w", cacheDir, err)
		}
		config = config.WithCompilationCache(cache)
	}
	r := wazero.NewRuntimeWithConfig(ctx, config)
	if _, err := wasi_snapshot_preview1.Instantiate(ctx, r); err != nil {
		return nil, err
	}
	compiled, err := r.CompileModule(ctx, pdfiumWasm)
	if err != nil {
		return nil, err
	}
	if _, err := imports.Instantiate(ctx, r, compiled); err != nil {
		return nil, err
	}
	module, err := r.InstantiateModule(ctx, compiled, wazero.NewModuleConfig().WithStartFunctions("_initialize"))
	if err != nil {
		return nil, err
	}
	in := &instance{module: module, funcs: map[string]api.Function{}}
	in.glyph = glyphFuncs{
		unicode:  module.ExportedFunction("FPDFText_GetUnicode"),
		looseBox: module.ExportedFunction("FPDFText_GetLooseCharBox"),
		origin:   module.ExportedFunction("FPDFText_GetCharOrigin"),
		object:   module.ExportedFunction("FPDFText_GetTextObject"),
	}
	if _, err := in.call("FPDF_InitLibrary"); err != nil {
		return nil, err
	}
	in.scratch, err = in.alloc(scratchSize)
	return in, err
}

// call runs an exported function by name. A trap leaves the instance broken.
func (in *instance) call(name string, args ...uint64) (uint64, error) {
	f := in.funcs[name]
	if f == nil {
		if f = in.module.ExportedFunction(name); f == nil {
			return 0, fmt.Errorf("pdf: PDFium has no function %s", name)
		}
		in.funcs[name] = f
	}
	return in.invoke(f, args...)
}

func (in *instance) invoke(f api.Function, args ...uint64) (uint64, error) {
	copy(in.stack[:], args)
	if err := f.CallWithStack(context.Background(), in.stack[:]); err != nil {
		in.broken = true
		return 0, fmt.Errorf("%w: the decoder failed", pdf.ErrPageBroke)
	}
	return in.stack[0], nil
}

func (in *instance) alloc(size int) (uint32, error) {
	at, err := in.call("malloc", uint64(size))
	if err != nil {
		return 0, err
	}
	if at == 0 {
		return 0, fmt.Errorf("%w: more memory is needed than the reader may use", pdf.ErrTooLarge)
	}
	return uint32(at), nil
}

func (in *instance) free(at uint32) {
	if at != 0 && !in.broken {
		in.call("free", uint64(at))
	}
}

// open makes data the instance's file. A reader opens one file after another
// in the same memory; the engine replaces it when that has grown too far.
func (in *instance) open(data []byte, password string) error {
	if in.doc != 0 {
		in.call("FPDF_CloseDocument", uint64(in.doc))
		in.free(in.buffer)
		in.doc, in.buffer = 0, 0
	}
	at, err := in.alloc(len(data))
	if err != nil {
		return err
	}
	in.buffer = at
	if !in.module.Memory().Write(at, data) {
		return fmt.Errorf("%w: it does not fit the reader's memory", pdf.ErrTooLarge)
	}
	var key uint64
	if password != "" {
		in.module.Memory().Write(in.scratch, append([]byte(password[:min(len(password), 1024)]), 0))
		key = uint64(in.scratch)
	}
	doc, err := in.call("FPDF_LoadMemDocument64", uint64(at), uint64(len(data)), key)
	if err != nil {
		return fmt.Errorf("%w: it breaks the decoder", pdf.ErrDamaged)
	}
	if doc == 0 {
		code, _ := in.call("FPDF_GetLastError")
		return lastError(code)
	}
	n, err := in.call("FPDF_GetPageCount", doc)
	in.doc, in.pages = uint32(doc), int(int32(n))
	in.fonts, in.index = nil, map[uint32]int32{}
	if err != nil {
		return err
	}
	tagged, err := in.call("FPDFCatalog_IsTagged", doc)
	in.tagged = uint32(tagged) != 0
	return err
}

// lastError translates FPDF_GetLastError.
func lastError(code uint64) error {
	switch code {
	case 4:
		return pdf.ErrPassword
	case 5:
		return pdf.ErrSecurity
	}
	return pdf.ErrDamaged
}

// utf16 reads what fill writes into a buffer: UTF-16LE with a closing zero.
// fill is given the buffer's address and size in bytes, as most of PDFium's
// text calls are, and returns the size that is needed.
func (in *instance) utf16(fill func(at, size uint64) (uint64, error)) (string, error) {
	n, err := fill(uint64(in.scratch), scratchSize)
	if err != nil || n < 2 || n > scratchSize {
		return "", err
	}
	raw, ok := in.module.Memory().Read(in.scratch, uint32(n))
	if !ok {
		return "", nil
	}
	units := make([]uint16, 0, n/2)
	for i := 0; i+1 < len(raw); i += 2 {
		if u := uint16(raw[i]) | uint16(raw[i+1])<<8; u != 0 {
			units = append(units, u)
		}
	}
	return string(utf16.Decode(units)), nil
}
