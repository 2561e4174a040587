package main

import (
	"bytes"
	"fmt"
	"strings"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"damselfly.example/damselfly/internal/cli"
)

// commandLine is a page of all commands with their options and examples.
func commandLine() []byte {
	root := cli.Commands()
	if data := root.PersistentFlags().Lookup("data"); data != nil {
		data.DefValue = "~/.local/share/damselfly" // and not where this machine has it
	}
	var out bytes.Buffer
	out.WriteString("# The command line\n\nWritten by `make describe` from the program's own commands; do not edit.\n\n")
	fmt.Fprintf(&out, "%s\n\nOptions of every command:\n\n```\n%s```\n", strings.TrimSpace(root.Long), options(root.PersistentFlags()))
	var write func(cmd *cobra.Command)
	write = func(cmd *cobra.Command) {
		for _, below := range cmd.Commands() {
			if !below.IsAvailableCommand() || below.Name() == "help" || below.Name() == "completion" {
				continue
			}
			fmt.Fprintf(&out, "\n## %s\n\n%s\n", below.CommandPath(), below.Short)
			if below.Long != "" {
				fmt.Fprintf(&out, "\n%s\n", strings.Join(strings.Fields(below.Long), " "))
			}
			if below.Runnable() && !below.HasSubCommands() {
				fmt.Fprintf(&out, "\n```\n%s\n```\n", strings.TrimSuffix(below.UseLine(), " [flags]"))
			}
			if below.Example != "" {
				fmt.Fprintf(&out, "\nSuch as:\n\n```\n%s\n```\n", below.Example)
			}
			if text := options(below.LocalNonPersistentFlags()); text != "" {
				fmt.Fprintf(&out, "\nOptions:\n\n```\n%s```\n", text)
			}
			write(below)
		}
	}
	write(root)
	return out.Bytes()
}

func options(flags *pflag.FlagSet) string {
	if help := flags.Lookup("help"); help != nil {
		help.Hidden = true
	}
	return flags.FlagUsages()
}
