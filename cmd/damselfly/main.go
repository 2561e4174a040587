// Command damselfly is the service, its console and its command line in one.
package main

import (
	"os"

	"damselfly.example/damselfly/internal/cli"
)

func main() { os.Exit(cli.Main(os.Args[1:], os.Stdout, os.Stderr)) }
