package main

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"time"

	"github.com/spf13/cobra"

	"meldung/outside"
	"meldung/store"
	"meldung/web"
	"meldung/work"
	"meldung/work/accounts"
	"meldung/work/messages"
)

func serveCommand() *cobra.Command {
	var addr, data, zone, cert, key string
	var selfSigned bool
	var out carriers
	c := &cobra.Command{
		Use: "serve", Short: "Serve a school", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
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
			return serve(c.Context(), addr, data, location, secure, lines)
		},
	}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:8321", "address to listen on")
	c.Flags().StringVar(&data, "data", "", "data folder")
	c.Flags().StringVar(&zone, "zone", "Local", "the school's time zone, such as Europe/London")
	c.Flags().StringVar(&cert, "tls-cert", "", "certificate file")
	c.Flags().StringVar(&key, "tls-key", "", "its key file")
	c.Flags().BoolVar(&selfSigned, "tls-self-signed", false, "make a certificate for trial")
	out.flags(c)
	c.MarkFlagsRequiredTogether("tls-cert", "tls-key")
	c.MarkFlagsMutuallyExclusive("tls-cert", "tls-self-signed")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	return c
}

func serve(ctx context.Context, addr, data string, zone *time.Location, secure *tls.Config, out set) error {
	db, err := store.Open(ctx, data)
	if err != nil {
		return err
	}
	defer db.Close()
	password, err := accounts.FirstAdministrator(ctx, db)
	if err != nil {
		return fmt.Errorf("making the first administrator: %w", err)
	}
	office, err := work.Open(ctx, db, outside.WallClock{Zone: zone})
	if err != nil {
		return err
	}
	handler, err := web.Handler(office, web.Options{Secure: secure != nil, Lines: out.lines, CarrierSecret: out.secret})
	if err != nil {
		return err
	}
	go tick(ctx, office, out.simulation)
	go messages.NewWorker(office, out.byChannel).Run(ctx)
	go func() {
		if err := office.Warm(ctx); err != nil && ctx.Err() == nil {
			slog.Error("reading the marks of the school year", "error", err)
		}
	}()
	return listen(ctx, addr, handler, secure, func(url string) {
		fmt.Printf("Meldung is open at %s\n", url)
		if password != "" {
			fmt.Printf("Sign in as admin with the one-time password %s\n", password)
		}
	})
}

// listen serves until the context ends, then lets requests finish.
func listen(ctx context.Context, addr string, handler http.Handler, secure *tls.Config, ready func(url string)) error {
	l, err := net.Listen("tcp", addr)
	if err != nil {
		return fmt.Errorf("listening on %s: %w", addr, err)
	}
	scheme := "http"
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, TLSConfig: secure,
		BaseContext: func(net.Listener) context.Context { return ctx }}
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
	end, cancel := context.WithTimeout(context.Background(), 3*time.Second)
	defer cancel()
	if err := server.Shutdown(end); err != nil && !errors.Is(err, context.DeadlineExceeded) {
		return err
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
		}
	}
}
