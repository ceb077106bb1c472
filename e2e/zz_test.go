package e2e
import ("testing";"time";"fmt"
"github.com/go-rod/rod/lib/proto"
"os/exec")
func TestZZ(t *testing.T){
 s:=startDemo(t,"09:12")
 out,err:=exec.Command("sqlite3",s.data+"/meldung.db","UPDATE enrollment SET to_date=20400 WHERE student_id IN (600,601,602,603)").CombinedOutput(); fmt.Println(string(out),err)
 s.kill(); s.up()
 w:=s.open("admin")
 shot:=func(name string){ time.Sleep(700*time.Millisecond); b,_:=w.Screenshot(false,&proto.PageCaptureScreenshot{}); writeShot("/tmp/shots/"+name,b) }
 w.goTo("/school"); w.see("Accounts"); shot("school.png")
 w.MustEval(`()=>[...document.querySelectorAll('h2')].find(h=>h.innerText.startsWith('Accounts')).scrollIntoView()`); shot("accounts.png")
 w.goTo("/left"); w.see("have left"); shot("left.png")
 w.field("Years for which data are kept").MustInput("0"); 
 w.goTo("/today"); w.see("on roll")
 w.goTo("/record"); w.see("looked at"); shot("record.png")
 w.goTo("/password"); time.Sleep(time.Second); shot("password.png")
 k:=s.open("kersey"); k.goTo("/desk"); k.see("Today at the desk"); w=k; shot("desk.png")
}
