package e2e
import "os"
func writeShot(p string,b []byte){ _ = os.WriteFile(p,b,0o644)}
