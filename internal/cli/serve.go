package cli

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/netip"
	"net/url"
	"os"
	"regexp"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/client/kits"
	"damselfly.example/damselfly/console"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/service"
	"damselfly.example/damselfly/internal/service/api"
	"damselfly.example/damselfly/internal/service/web"
)

// serving are the options of commands that run a service.
type serving struct {
	listen, public, path, metrics, database, node, log, logFormat string
	proxies, origins                                              []string
	keepRooms                                                     int
	limits                                                        api.Limits
}

func (s *serving) flags(cmd *cobra.Command) {
	cmd.Flags().StringVar(&s.listen, "listen", "127.0.0.1:7171", "address to listen on")
	cmd.Flags().StringVar(&s.public, "public-address", "", "address under which people reach the service, such as https://table.example, for links (default: the one they ask)")
	cmd.Flags().StringVar(&s.path, "path", "", "`path` under which the service stands at its address, such as /table (default: all of the address is its own)")
	cmd.Flags().StringSliceVar(&s.proxies, "trust-proxy", nil, "networks of proxies that say for whom they ask, such as 127.0.0.1/32 (X-Forwarded-For, -Host, -Proto, Forwarded)")
	cmd.Flags().StringSliceVar(&s.origins, "allow-origin", nil, "`addresses` of pages of others that may ask the API, hold sockets and show a table in a frame, such as https://game.example; * for all")
	cmd.Flags().IntVar(&s.keepRooms, "keep-rooms", 0, "`days` after which a room in which nothing is done is removed; its maker can bring it back for 30 more (default: never)")
	cmd.Flags().IntVar(&s.limits.Kits, "kits-per-maker", api.DefaultLimits.Kits, "how many kits one maker may have")
	cmd.Flags().IntVar(&s.limits.Rooms, "rooms-per-maker", api.DefaultLimits.Rooms, "how many rooms one maker may have")
	cmd.Flags().IntVar(&s.limits.Mebibytes, "mebibytes-per-maker", api.DefaultLimits.Mebibytes, "how large one maker's files may be together")
	cmd.Flags().IntVar(&s.limits.Acts, "acts-per-second", api.DefaultLimits.Acts, "how many acts one person may do a second in the long run, and three times as many at once")
	cmd.Flags().IntVar(&s.limits.Joins, "joins-per-minute", api.DefaultLimits.Joins, "how many people may join a room a minute from one address in the long run")
	cmd.Flags().StringVar(&s.metrics, "metrics", defaultMetrics, "address for Prometheus' /metrics; empty for none")
	cmd.Flags().StringVar(&s.database, "database", "", "data source name of a running MariaDB (default: start one under --data)")
	cmd.Flags().StringVar(&s.node, "node-address", "", "`address` at which other services on the same database reach this one, such as http://10.0.0.2:7171; a room is then held by one of them (default: this one is alone)")
	cmd.Flags().StringVar(&s.log, "log", "info", "what to log: debug, info, warn or error")
	cmd.Flags().StringVar(&s.logFormat, "log-format", "text", "how to log: text, or json with one object a line")
}

func (a *app) config(s serving) (service.Config, error) {
	var level slog.Level
	if err := level.UnmarshalText([]byte(s.log)); err != nil {
		return service.Config{}, usage("--log takes debug, info, warn or error, not %q", s.log)
	}
	if s.public != "" {
		if u, err := url.Parse(s.public); err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" || u.Path != "" && u.Path != "/" {
			return service.Config{}, usage("--public-address takes an address such as https://table.example, not %q; a path goes into --path", s.public)
		}
	}
	s.path = strings.TrimRight(s.path, "/")
	if s.path != "" && !servedPath.MatchString(s.path) {
		return service.Config{}, usage("--path takes a path such as /table, of letters, digits, hyphens and dots, not %q", s.path)
	}
	if s.node != "" {
		if u, err := url.Parse(s.node); err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" || u.Path != "" && u.Path != "/" {
			return service.Config{}, usage("--node-address takes an address such as http://10.0.0.2:7171, not %q", s.node)
		}
	}
	options := &slog.HandlerOptions{Level: level}
	var handler slog.Handler
	switch s.logFormat {
	case "text":
		handler = slog.NewTextHandler(a.err, options)
	case "json":
		handler = slog.NewJSONHandler(a.err, options)
	default:
		return service.Config{}, usage("--log-format takes text or json, not %q", s.logFormat)
	}
	var tell io.Writer = a.err
	if s.logFormat == "json" {
		tell = told{slog.New(handler)}
	}
	var proxies web.Trusted
	for _, network := range s.proxies {
		prefix, err := netip.ParsePrefix(network)
		if one, failed := netip.ParseAddr(network); failed == nil {
			prefix, err = one.Prefix(one.BitLen())
		}
		if err != nil {
			return service.Config{}, usage("--trust-proxy takes networks such as 10.0.0.0/8, not %q", network)
		}
		proxies = append(proxies, prefix)
	}
	var origins []string
	for _, text := range s.origins {
		origin, is := api.OriginOf(text)
		if !is {
			return service.Config{}, usage("--allow-origin takes addresses such as https://game.example, without a path, or *; not %q", text)
		}
		origins = append(origins, origin)
	}
	if s.keepRooms < 0 {
		return service.Config{}, usage("--keep-rooms takes a number of days, not %d", s.keepRooms)
	}
	for _, n := range []int{s.limits.Kits, s.limits.Rooms, s.limits.Mebibytes, s.limits.Acts, s.limits.Joins} {
		if n < 1 {
			return service.Config{}, usage("a limit is at least 1, not %d", n)
		}
	}
	return service.Config{
		Limits: s.limits, Proxies: proxies, KeepRooms: s.keepRooms, Origins: origins, Node: s.node,
		Listen: s.listen, Public: s.public, Path: s.path, Metrics: s.metrics, MetricsOrNot: s.metrics == defaultMetrics, Data: a.data, Database: s.database, Console: console.Files(), Tell: tell,
		Log: slog.New(handler),
	}, nil
}

// servedPath is what a path may be under which the service stands.
var servedPath = regexp.MustCompile(`^(/[A-Za-z0-9_-][A-Za-z0-9._-]*)+$`)

// told is a writer whose lines are lines of a log.
type told struct{ log *slog.Logger }

func (t told) Write(text []byte) (int, error) {
	for line := range strings.Lines(string(text)) {
		if line = strings.TrimSpace(line); line != "" {
			t.log.Info(line)
		}
	}
	return len(text), nil
}

// defaultMetrics is where Prometheus finds the metrics, if nothing else has that address.
const defaultMetrics = "127.0.0.1:7172"

func (a *app) serve() *cobra.Command {
	var s serving
	cmd := &cobra.Command{
		Use:     "serve",
		Short:   "Run the service",
		Long:    "Run the service until Ctrl-C or SIGTERM. It starts a MariaDB of its own under the data folder,\nunless --database names another one.",
		Example: "  damselfly serve\n  damselfly serve --listen 0.0.0.0:80 --data /var/lib/damselfly",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := a.config(s)
			if err != nil {
				return err
			}
			return service.Run(cmd.Context(), c, func(address string) error {
				if s.logFormat == "json" {
					c.Log.Info("Damselfly answers", "address", address)
				} else {
					fmt.Fprintf(a.err, "Damselfly answers at %s (Ctrl-C ends it).\n", address)
				}
				if a.json {
					a.line(map[string]string{"address": address}, "")
				}
				return nil
			})
		},
	}
	s.flags(cmd)
	return cmd
}

// demoKit is the name of the demo's kit.
const demoKit = "Marsh Post"

// demoRoom is the name of the room that the demo keeps open.
const demoRoom = "Marsh Post, first playtest"

func (a *app) demo() *cobra.Command {
	var s serving
	cmd := &cobra.Command{
		Use:     "demo",
		Short:   "Run the service with the made-up game Marsh Post on the shelf and a room open",
		Example: "  damselfly demo\n  damselfly demo --listen 127.0.0.1:7272",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := a.config(s)
			if err != nil {
				return err
			}
			c.Maker = "Reed"
			return service.Run(cmd.Context(), c, func(address string) error {
				a.server = address
				return a.layDemo(cmd.Context())
			})
		},
	}
	s.flags(cmd)
	return cmd
}

// layDemo puts Marsh Post on the shelf, opens its room unless it is open from
// an earlier start, and says what to try.
func (a *app) layDemo(ctx context.Context) error {
	maker, err := a.maker()
	if err != nil {
		return err
	}
	id, err := layEditions(ctx, maker)
	if err != nil {
		return err
	}
	if a.json {
		a.line(map[string]string{"address": a.server, "room": id, "key": a.key}, "")
		return nil
	}
	program := os.Args[0]
	fmt.Fprintf(a.out, "\n  Open this address in two browser windows and take a seat in each:\n\n    %s/room/%s\n\n", a.server, id)
	fmt.Fprintf(a.out, "  Try: drag a card from the weather pile into your hand, and from there onto the sky.\n")
	at := ""
	if a.server != defaultServer {
		at = " --server " + a.server
	}
	fmt.Fprintf(a.out, "  Or from another terminal: %s join %s --as Cleo%s\n", program, id, at)
	fmt.Fprintf(a.out, "  To see the table in use, alone: %s practise %s --seats 2%s\n", program, id, at)
	fmt.Fprintf(a.out, "  As its maker, with a shelf and a bench: %s/#maker=%s\n", a.server, a.key)
	fmt.Fprintf(a.out, "\n  Started %s. Ctrl-C ends everything; nothing is lost.\n\n", time.Now().Format("15:04:05"))
	return nil
}

// layEditions puts both editions of Marsh Post on the shelf, unless they are there, and
// opens a room with the first.
func layEditions(ctx context.Context, maker *client.Client) (room string, err error) {
	if page, err := maker.KitPage(ctx, demoKit); err == nil && len(page.Editions) > 1 {
		return demoRoomID(ctx, maker)
	}
	if _, err := kits.PutFolder(ctx, maker, demo.Kit(), kits.Options{Note: "as it was first played"}); err != nil {
		return "", err
	}
	if room, err = demoRoomID(ctx, maker); err != nil {
		return "", err
	}
	var second bytes.Buffer
	if err := kit.ZipWith(demo.Kit(), demo.Second(), &second); err != nil {
		return "", err
	}
	folder, err := kit.OpenZip(second.Bytes())
	if err != nil {
		return "", err
	}
	_, err = kits.PutFolder(ctx, maker, folder, kits.Options{Note: demo.SecondNote})
	return room, err
}

func demoRoomID(ctx context.Context, maker *client.Client) (string, error) {
	rooms, err := maker.Rooms(ctx)
	if err != nil {
		return "", err
	}
	for _, r := range rooms {
		if r.Name == demoRoom {
			return r.ID, nil
		}
	}
	room, err := maker.OpenRoom(ctx, client.OpenRoom{Kit: demoKit, Edition: 1, Name: demoRoom, Seats: 4})
	return room.ID, err
}
