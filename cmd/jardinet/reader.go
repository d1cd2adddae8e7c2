//go:build !client

package main

import "jardinet/pdfium"

// serveReader does not return in a reader process.
func serveReader() { pdfium.ServeReader() }
