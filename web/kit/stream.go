package kit

import (
	"bufio"
	"context"
	"fmt"
	"lugtak/shop"
	"time"

	"github.com/gofiber/fiber/v3"
)

// Stream sends a topic as server-sent events until the client or the server goes, after a
// first message that says how things stand: what happened while nobody listened is not
// missed. It ends too when lives says that whoever listens has no session any more, and calls
// gone when it ends.
func Stream(
	ctx context.Context, h *shop.Hub, c fiber.Ctx, topic string, first func() (shop.Message, error), lives func() bool,
	gone func(),
) error {
	c.Set("Content-Type", "text/event-stream")
	c.Set("Cache-Control", "no-cache")
	c.Set("X-Accel-Buffering", "no")
	ch, leave := h.Listen(topic)
	begin, err := first()
	if err != nil {
		leave()
		gone()
		return err
	}
	return c.SendStreamWriter(func(w *bufio.Writer) {
		defer gone()
		defer leave()
		beat := time.NewTicker(10 * time.Second)
		defer beat.Stop()
		fmt.Fprintf(w, "retry: 1500\nevent: %s\ndata: %s\n\n", begin.Event, begin.Data)
		for {
			if w.Flush() != nil {
				return
			}
			select {
			case m := <-ch:
				if !lives() {
					return
				}
				fmt.Fprintf(w, "event: %s\ndata: %s\n\n", m.Event, m.Data)
			case <-beat.C:
				if !lives() {
					return
				}
				fmt.Fprint(w, ": here\n\n")
			case <-ctx.Done():
				return
			}
		}
	})
}
