// Command jardinet is the service and the command line that talks to it.
package main

import (
	"os"

	"jardinet/cli"
	"jardinet/pdfium"
)

func main() {
	pdfium.ServeReader() // does not return in a reader process
	os.Exit(cli.Run(os.Args[1:], os.Stdin, os.Stdout, os.Stderr))
}
