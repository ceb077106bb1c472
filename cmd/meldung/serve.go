package main

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"path/filepath"
	"sync"
	"time"

	"github.com/spf13/cobra"

	"meldung/outside"
	"meldung/pages/paperpage"
	"meldung/store"
	"meldung/web"
	"meldung/work"
	"meldung/work/access"
	"meldung/work/accounts"
	"meldung/work/concerns"
	"meldung/work/messages"
	"meldung/work/paperlists"
)

// serving is how a school is served.
type serving struct {
	addr, data string
	gate       string // folder of the list for a printer at the gate
	printer    string // folder of what is to be printed; empty for none
	zone       *time.Location
	secure     *tls.Config // nil without TLS of one's own
	proxied    bool
	idle       time.Duration
	out        set
}

func serveCommand() *cobra.Command {
	var addr, data, zone, cert, key, gate, printer string
	var selfSigned, proxied bool
	var idle time.Duration
	var out carriers
	c := &cobra.Command{
		Use: "serve", Short: "Serve a school", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) (err error) {
			release, err := store.Lock(data)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, release()) }()
			secure, err := tlsConfig(cert, key, selfSigned, data)
			if err != nil {
				return err
			}
			location, err := time.LoadLocation(zone)
			if err != nil {
				return fmt.Errorf("the zone %q is not known: %w", zone, err)
			}
			lines, err := out.ready()
			if err != nil {
				return err
			}
			if gate == "" {
				gate = filepath.Join(data, "gate")
			}
			return serve(c.Context(), serving{addr, data, gate, printer, location, secure, proxied, idle, lines})
		},
	}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:8321", "address to listen on")
	c.Flags().StringVar(&data, "data", "", "data folder")
	c.Flags().StringVar(&zone, "zone", "Local", "the school's time zone, such as Europe/London")
	c.Flags().StringVar(&cert, "tls-cert", "", "certificate file")
	c.Flags().StringVar(&key, "tls-key", "", "its key file")
	c.Flags().BoolVar(&selfSigned, "tls-self-signed", false, "make a certificate for trial")
	c.Flags().BoolVar(&proxied, "behind-proxy", false, "a proxy of one's own does TLS and says in X-Forwarded-For where requests come from")
	c.Flags().DurationVar(&idle, "idle", web.Idle, "how long a sign-in lasts while nobody uses it")
	c.Flags().StringVar(&gate, "gate", "", "folder in which roll-call.pdf, everyone on the premises, is written every five minutes for a printer at the gate (usually gate in the data folder)")
	c.Flags().StringVar(&printer, "printer", "", "folder in which lists for the printer are put as PDF files, for a print server to take; without it none are")
	out.flags(c)
	c.MarkFlagsRequiredTogether("tls-cert", "tls-key")
	c.MarkFlagsMutuallyExclusive("tls-cert", "tls-self-signed")
	c.MarkFlagsMutuallyExclusive("tls-cert", "behind-proxy")
	c.MarkFlagsMutuallyExclusive("tls-self-signed", "behind-proxy")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	return c
}

func serve(ctx context.Context, s serving) (err error) {
	db, err := store.Open(ctx, s.data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	password, err := accounts.FirstAdministrator(ctx, db)
	if err != nil {
		return fmt.Errorf("making the first administrator: %w", err)
	}
	office, err := work.Open(ctx, db, outside.WallClock{Zone: s.zone})
	if err != nil {
		return err
	}
	if err := office.Begin(ctx); err != nil {
		return err
	}
	looks := access.New(office)
	if s.printer != "" {
		s.out.lines.Printer = web.Carried
	}
	handler, err := web.Handler(office, web.Options{Secure: s.secure != nil || s.proxied, BehindProxy: s.proxied, Idle: s.idle, Closing: ctx.Done(), Logs: true,
		Looks: looks, Lines: s.out.lines, CarrierSecret: s.out.secret, Printer: printerIn(s.printer)})
	if err != nil {
		return err
	}
	// What runs beside the pages ends with them, before the file is closed.
	beside, end := context.WithCancel(context.WithoutCancel(ctx))
	var running sync.WaitGroup
	defer func() { end(); running.Wait() }()
	running.Go(func() { tick(beside, office, s.out.simulation) })
	running.Go(func() { messages.NewWorker(office, s.out.byChannel, paperpage.Enclosures(office, looks)).Run(beside) })
	running.Go(func() { looks.Run(beside) })
	running.Go(func() { keepPrinting(beside, office, looks, s.printer) })
	running.Go(func() { tidy(beside, office) })
	running.Go(func() { keepAtTheGate(beside, office, s.gate, gateEvery) })
	running.Go(func() {
		if err := office.Warm(beside); err != nil && beside.Err() == nil {
			slog.Error("reading the marks of the school year", "error", err)
		}
	})
	return listen(ctx, s.addr, handler, s.secure, func(url string) {
		fmt.Printf("Meldung is open at %s\n", url)
		if password != "" {
			fmt.Printf("Sign in as admin with the one-time password %s\n", password)
		}
	})
}

// lastRequests is how long requests under way may take when the program is asked to end.
const lastRequests = 15 * time.Second

// listen serves until the context ends, then lets the requests under way finish.
func listen(ctx context.Context, addr string, handler http.Handler, secure *tls.Config, ready func(url string)) error {
	l, err := net.Listen("tcp", addr)
	if err != nil {
		return fmt.Errorf("listening on %s: %w", addr, err)
	}
	scheme := "http"
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10, TLSConfig: secure}
	failed := make(chan error, 1)
	go func() {
		if secure != nil {
			failed <- server.ServeTLS(l, "", "")
			return
		}
		failed <- server.Serve(l)
	}()
	if secure != nil {
		scheme = "https"
	}
	ready(scheme + "://" + l.Addr().String())
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	end, cancel := context.WithTimeout(context.Background(), lastRequests)
	defer cancel()
	if err := server.Shutdown(end); err != nil {
		return errors.Join(fmt.Errorf("some requests were cut short: %w", err), server.Close())
	}
	return nil
}

// tick lets what falls due by itself happen, until the context ends.
func tick(ctx context.Context, office *work.Office, simulated messages.Simulation) {
	every := time.NewTicker(5 * time.Second)
	defer every.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-every.C:
			if err := messages.Tick(ctx, office, simulated, office.Now()); err != nil && ctx.Err() == nil {
				slog.Error("reminders and messages are held up", "error", err)
			}
			if err := paperlists.Tick(ctx, office, office.Now()); err != nil && ctx.Err() == nil {
				slog.Error("lists that are due are held up", "error", err)
			}
			if err := concerns.TellNew(ctx, office, office.Now()); err != nil && ctx.Err() == nil {
				slog.Error("nobody is told of new concerns", "error", err)
			}
		}
	}
}

// tidy removes what is too old, now and a few times a day.
func tidy(ctx context.Context, office *work.Office) {
	again := time.NewTicker(6 * time.Hour)
	defer again.Stop()
	for {
		if err := office.Tidy(ctx); err != nil && ctx.Err() == nil {
			slog.Error("tidying up", "error", err)
		}
		select {
		case <-again.C:
		case <-ctx.Done():
			return
		}
	}
}
