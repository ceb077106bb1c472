package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"meldung/outside"
	"meldung/store"
	"meldung/web"
	"meldung/work"
	"meldung/work/access"
)

// serveCommand serves a folder's school as the program does, at the morning that is measured.
func serveCommand() *cobra.Command {
	return &cobra.Command{
		Use: "serve FOLDER", Hidden: true, Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) (err error) {
			ctx := c.Context()
			release, err := store.Lock(args[0])
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, release()) }()
			db, err := store.Open(ctx, args[0])
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, db.Close()) }()
			office, err := work.Open(ctx, db, outside.NewDemoClock(morning))
			if err != nil {
				return err
			}
			go func() { _ = office.Warm(ctx) }() // who asks first waits for it
			looks := access.New(office)
			handler, err := web.Handler(office, web.Options{Closing: ctx.Done(), Looks: looks})
			if err != nil {
				return err
			}
			go looks.Run(ctx)
			l, err := net.Listen("tcp", "127.0.0.1:0")
			if err != nil {
				return err
			}
			fmt.Println("http://" + l.Addr().String())
			s := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second}
			go func() {
				<-ctx.Done()
				_ = s.Shutdown(context.WithoutCancel(ctx))
			}()
			if err := s.Serve(l); !errors.Is(err, http.ErrServerClosed) {
				return err
			}
			return nil
		},
	}
}

// server is a program of its own that serves the measured school.
type server struct {
	*exec.Cmd
	url string
}

func started(ctx context.Context, folder string) (*server, error) {
	self, err := os.Executable()
	if err != nil {
		return nil, err
	}
	c := exec.CommandContext(ctx, self, "serve", folder)
	c.Stderr = os.Stderr
	out, err := c.StdoutPipe()
	if err != nil {
		return nil, err
	}
	if err := c.Start(); err != nil {
		return nil, err
	}
	line, err := bufio.NewReader(out).ReadString('\n')
	if err != nil {
		return nil, errors.Join(fmt.Errorf("the server did not start: %w", err), c.Process.Kill(), c.Wait())
	}
	return &server{c, strings.TrimSpace(line)}, nil
}

// end asks the server to end.
func (s *server) end() error {
	if err := s.Process.Signal(syscall.SIGTERM); err != nil {
		return err
	}
	return s.Wait()
}

// used returns how long the server has kept a core busy, and its resident memory now and at most,
// as the system counts them (proc(5), where there is one).
func (s *server) used() (busy time.Duration, resident, peak int64) {
	const ticks = 100 // a second: USER_HZ on every Linux
	if text, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", s.Process.Pid)); err == nil {
		// The name in parentheses may hold anything; the user's and the system's ticks are the
		// 14th and 15th field.
		fields := strings.Fields(string(text[strings.LastIndexByte(string(text), ')')+1:]))
		if len(fields) > 12 {
			user, _ := strconv.Atoi(fields[11])
			system, _ := strconv.Atoi(fields[12])
			busy = time.Duration(user+system) * time.Second / ticks
		}
	}
	if text, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", s.Process.Pid)); err == nil {
		for line := range strings.Lines(string(text)) {
			name, value, _ := strings.Cut(line, ":")
			kilobytes, _ := strconv.ParseInt(strings.TrimSuffix(strings.TrimSpace(value), " kB"), 10, 64)
			switch name {
			case "VmRSS":
				resident = kilobytes << 10
			case "VmHWM":
				peak = kilobytes << 10
			}
		}
	}
	return busy, resident, peak
}
