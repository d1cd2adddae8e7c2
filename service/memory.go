package service

import (
	"os"
	"runtime"
	"strconv"
	"strings"
)

// What the service and its readers may hold is shared out: a quarter to the readers together, a
// quarter to the documents that are being read. The rest is for questions, the index and air.

// memory returns how many MiB the service may use: what was said, or what the machine or its
// control group has.
func memory(said int) int {
	if said > 0 {
		return said
	}
	least := 16 << 10
	for path, read := range map[string]func(string) int{
		"/sys/fs/cgroup/memory.max": func(s string) int { n, _ := strconv.Atoi(strings.TrimSpace(s)); return n >> 20 },
		"/proc/meminfo":             totalMemory,
	} {
		if data, err := os.ReadFile(path); err == nil {
			if n := read(string(data)); n > 0 {
				least = min(least, n)
			}
		}
	}
	return least
}

// totalMemory reads the first line of /proc/meminfo, "MemTotal:  123 kB".
func totalMemory(s string) int {
	fields := strings.Fields(s)
	if len(fields) < 2 {
		return 0
	}
	n, _ := strconv.Atoi(fields[1])
	return n >> 10
}

// readerMemory is how many MiB of PDFium's memory a reader may have.
func readerMemory(memory int) int {
	return min(768, max(128, memory/(4*runtime.GOMAXPROCS(0))))
}

// bytesAGlyph is what a character takes from when its page is read until its document is
// cut into passages.
const bytesAGlyph = 75

// mostGlyphs is how many characters a document may have, so that those that are being read at
// a time have room.
func mostGlyphs(memory int) int64 {
	return min(8_000_000, max(500_000, int64(memory)<<20/4/bytesAGlyph/int64(workers())))
}
