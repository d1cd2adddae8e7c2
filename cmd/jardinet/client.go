//go:build client

package main

// serveReader has nothing to do in a program that reads no PDF.
func serveReader() {}
