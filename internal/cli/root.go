// Package cli is the command line: the service, and everything a maker, a
// player or a script does with one.
package cli

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"net/url"
	"os"
	"os/signal"
	"path/filepath"
	"slices"
	"strings"
	"syscall"

	"github.com/goccy/go-yaml"
	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service"
	"damselfly.example/damselfly/internal/service/api"
)

// defaultServer is where a service answers that was given no address.
const defaultServer = "http://127.0.0.1:7171"

// Exit codes, for scripts.
const (
	exitDone        = 0
	exitFailed      = 1 // something unexpected
	exitUsage       = 2 // the command line was wrong
	exitRefused     = 3 // an ordinary "no": a refusal, a mistake in a file, a warning not accepted
	exitUnreachable = 4 // no service answers there
)

// app is what all commands share.
type app struct {
	out, err io.Writer
	json     bool
	server   string
	key      string
	data     string
}

// Main runs the command line and returns the exit code.
func Main(args []string, out, errs io.Writer) int {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	a := &app{}
	a.out, a.err = plain{out, &a.json}, plain{errs, &a.json}
	root := a.root()
	root.SetArgs(args)
	root.SetOut(a.out)
	root.SetErr(a.err)
	return a.exit(root.ExecuteContext(ctx))
}

func (a *app) root() *cobra.Command {
	root := &cobra.Command{
		Use:   "damselfly",
		Short: "A rules-free shared card table for people who make tabletop games",
		Long: "A rules-free shared card table for people who make tabletop games.\n\n" +
			"Each option can also be set by an environment variable (--server as DAMSELFLY_SERVER) or in a file\n" +
			"config.yaml in the configuration folder (server: …); an option given here is the strongest.\n\n" +
			"Exit codes: 0 done, 1 failed, 2 wrong command line, 3 refused, 4 no service answers.",
		Version:       api.Version,
		SilenceUsage:  true,
		SilenceErrors: true,
		PersistentPreRunE: func(cmd *cobra.Command, _ []string) error {
			return a.fillFlags(cmd.Root(), cmd.Flags())
		},
	}
	root.SetFlagErrorFunc(func(cmd *cobra.Command, err error) error {
		return usage("%w; see %s --help", err, cmd.CommandPath())
	})
	flags := root.PersistentFlags()
	flags.BoolVar(&a.json, "json", false, "print JSON for programs")
	flags.StringVar(&a.server, "server", defaultServer, "address of the service")
	flags.StringVar(&a.key, "key", "", "maker key (default: the one in the data folder)")
	flags.StringVar(&a.data, "data", defaultData(), "folder for the service's own data")
	root.AddCommand(a.serve(), a.demo(), a.sheet(), a.deck(), a.card(), a.kit(), a.room(), a.bookmark(), a.makers(), a.join(), a.look(), a.do(), a.undo(), a.peek(), a.ask(), a.answer(), a.where(),
		a.watch(), a.log(), a.steps(), a.practise())
	root.AddCommand(a.keeping()...)
	sayHowItIsWritten(root)
	return root
}

// sayHowItIsWritten has commands that are given too few words, or too many, answer with
// how they are written.
func sayHowItIsWritten(cmd *cobra.Command) {
	for _, below := range cmd.Commands() {
		sayHowItIsWritten(below)
	}
	if cmd.Args == nil {
		return
	}
	count := cmd.Args
	cmd.Args = func(c *cobra.Command, args []string) error {
		if count(c, args) == nil {
			return nil
		}
		example, _, _ := strings.Cut(strings.TrimSpace(c.Example), "\n")
		return usage("this is written: %s\n  such as: %s", strings.TrimSuffix(c.UseLine(), " [flags]"), example)
	}
}

func defaultData() string {
	if folder := os.Getenv("XDG_DATA_HOME"); folder != "" {
		return filepath.Join(folder, "damselfly")
	}
	home, err := os.UserHomeDir()
	if err != nil {
		return "damselfly-data"
	}
	return filepath.Join(home, ".local", "share", "damselfly")
}

func configFolder() (string, error) {
	folder, err := os.UserConfigDir()
	return filepath.Join(folder, "damselfly"), err
}

// fillFlags sets options that were not given, from the environment or else
// the configuration file.
func (a *app) fillFlags(root *cobra.Command, flags *pflag.FlagSet) error {
	config := map[string]any{}
	if folder, err := configFolder(); err == nil {
		file := filepath.Join(folder, "config.yaml")
		if text, err := os.ReadFile(file); err == nil {
			if err := yaml.Unmarshal(text, &config); err != nil {
				return fmt.Errorf("%s: %w", file, err)
			}
		}
	}
	if err := a.knownOptions(root, config); err != nil {
		return err
	}
	var failed error
	flags.VisitAll(func(f *pflag.Flag) {
		value, set := os.LookupEnv("DAMSELFLY_" + strings.ToUpper(strings.ReplaceAll(f.Name, "-", "_")))
		if fromFile, ok := config[f.Name]; ok && !set {
			value, set = fmt.Sprint(fromFile), true
		}
		if set && !f.Changed && failed == nil {
			failed = flags.Set(f.Name, value)
		}
	})
	return failed
}

// knownOptions refuses settings in the configuration file that no command has, and tells of such DAMSELFLY_
// variables, which may be somebody else's.
func (a *app) knownOptions(root *cobra.Command, config map[string]any) error {
	known := map[string]bool{"help": true}
	var collect func(cmd *cobra.Command)
	collect = func(cmd *cobra.Command) {
		cmd.LocalFlags().VisitAll(func(f *pflag.Flag) { known[f.Name] = true })
		for _, below := range cmd.Commands() {
			collect(below)
		}
	}
	collect(root)
	names := slices.Sorted(maps.Keys(known))
	for _, name := range slices.Sorted(maps.Keys(config)) {
		if !known[name] {
			return usage("config.yaml has %q, which is no option%s", name, table.DidYouMean(name, names))
		}
	}
	for _, variable := range os.Environ() {
		name, _, _ := strings.Cut(variable, "=")
		option, ours := strings.CutPrefix(name, "DAMSELFLY_")
		option = strings.ToLower(strings.ReplaceAll(option, "_", "-"))
		if ours && !known[option] {
			fmt.Fprintf(a.err, "damselfly: the environment has %s, and there is no option --%s%s\n", name, option, table.DidYouMean(option, names))
		}
	}
	return nil
}

// maker is the service as its makers see it.
func (a *app) maker() (*client.Client, error) {
	if a.key == "" {
		file := filepath.Join(a.data, service.KeyFile)
		text, err := os.ReadFile(file)
		if err != nil {
			return nil, refused("there is no maker key: give one with --key, or name the data folder of a service on this machine with --data (looked in %s)", file)
		}
		a.key = strings.TrimSpace(string(text))
	}
	return client.New(a.server, a.key), nil
}

func (a *app) printJSON(v any) error {
	encoder := json.NewEncoder(a.out)
	encoder.SetIndent("", "  ")
	encoder.SetEscapeHTML(false)
	return encoder.Encode(v)
}

// exitError is an error with its exit code.
type exitError struct {
	code int
	err  error
}

func (e *exitError) Error() string { return e.err.Error() }
func (e *exitError) Unwrap() error { return e.err }

func usage(format string, args ...any) error {
	return &exitError{exitUsage, fmt.Errorf(format, args...)}
}

func refused(format string, args ...any) error {
	return &exitError{exitRefused, fmt.Errorf(format, args...)}
}

// exit prints an error and finds its code.
func (a *app) exit(err error) int {
	if err == nil || errors.Is(err, context.Canceled) {
		return exitDone
	}
	code := exitFailed
	var coded *exitError
	var problem *client.Problem
	var unreachable *url.Error
	switch {
	case errors.As(err, &coded):
		code = coded.code
	case errors.As(err, &problem):
		if problem.Status < 500 {
			code = exitRefused
		}
		if a.json {
			text, _ := json.Marshal(problem)
			fmt.Fprintln(a.err, string(text))
			return code
		}
	case errors.As(err, &unreachable):
		code = exitUnreachable
		err = fmt.Errorf("no service answers at %s; start one with \"damselfly serve\", or give another address with --server (%w)", a.server, unreachable.Err)
	case strings.HasPrefix(err.Error(), "unknown command"), strings.Contains(err.Error(), "arg(s)"), strings.HasPrefix(err.Error(), "required flag"):
		code = exitUsage
	}
	if a.json {
		text, _ := json.Marshal(map[string]any{"error": err.Error(), "exit": code})
		fmt.Fprintln(a.err, string(text))
		return code
	}
	fmt.Fprintln(a.err, "damselfly:", err)
	return code
}

// Commands are all commands, for who describes them.
func Commands() *cobra.Command { return (&app{out: io.Discard, err: io.Discard}).root() }
