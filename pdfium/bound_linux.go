package pdfium

import (
	"fmt"
	"os"
	"time"
)

// ownMemory is what a reader may take, in MiB, beside the memory that PDFium sees: compiled
// code, the file, and what is on its way to the engine.
const ownMemory = 192

// bound ends the process once it holds more than so many bytes, before the machine has none
// left. A limit of the kernel on addresses will not do, since far more are reserved than
// used. If memory runs out all the same, a reader shall be ended and not the service.
func bound(most uint64) {
	_ = os.WriteFile("/proc/self/oom_score_adj", []byte("500"), 0) // may not be allowed
	go func() {
		for range time.Tick(20 * time.Millisecond) {
			if held() > most {
				fmt.Fprintf(os.Stderr, "pdf reader: ended, since it held more than %d MiB\n", most>>20)
				os.Exit(3)
			}
		}
	}()
}

// held returns the bytes of memory that the process holds.
func held() uint64 {
	data, err := os.ReadFile("/proc/self/statm")
	var size, resident uint64
	if _, scanned := fmt.Sscan(string(data), &size, &resident); err != nil || scanned != nil {
		return 0
	}
	return resident * uint64(os.Getpagesize())
}
