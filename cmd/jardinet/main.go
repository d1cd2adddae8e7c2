// Command jardinet is the service and the command line that talks to it.
package main

import (
	"os"

	"jardinet/cli"
)

func main() {
	serveReader()
	os.Exit(cli.Run(os.Args[1:], os.Stdin, os.Stdout, os.Stderr))
}
