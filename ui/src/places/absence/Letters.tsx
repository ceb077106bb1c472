import "./steps.css";
import { Button, Input } from "antd";
import { useEffect, useState } from "react";
import { type Schemas, write as send, useRead, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { Tick } from "../../parts/controls/Tick";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";
import { Sheet } from "./LetterOf";

const { TextArea } = Input;

type View = Schemas["LettersView"];

/** The school's letters: their wordings by language, written beside a real student's. */
export function Letters() {
  const { params, set } = useAddress();
  const page = useRead("/api/letters");
  if (!page.data) return <Waiting error={page.error} />;
  const id = Number(params.get("letter") ?? page.data.letters[0]?.id ?? 0);
  const chosen = page.data.letters.find((l) => l.id === id);
  const language = params.get("language") ?? "";
  const adds = params.get("letter") === "new" || (!chosen && page.data.letters.length === 0);
  return (
    <main className="page absence-place steps-part">
      <h1 className="visually-hidden">Letters</h1>
      <div className="columns letter-columns">
        <Panel title="Letters" extra={page.data.letters.length}>
          {page.data.letters.map((l) => (
            <div key={l.id} className="look-line">
              <span className="look-two">
                <button
                  type="button"
                  className="link"
                  aria-current={(!adds && l.id === id) || undefined}
                  onClick={() => set({ letter: String(l.id), language: undefined })}
                >
                  <b>{l.name}</b>
                </button>
                <span className="look-small look-muted">
                  {l.retired ? "offered no more" : l.used ? `for ${l.used}` : "no action asks for it yet"}
                  {l.wordings.length > 1 && ` · ${plural(l.wordings.length, "language")}`}
                </span>
              </span>
            </div>
          ))}
          <div className="look-line">
            <Button size="small" onClick={() => set({ letter: "new", language: undefined })}>
              New letter
            </Button>
          </div>
        </Panel>
        {(chosen || adds) && (
          <Wording
            key={`${adds ? "new" : id} ${language}`}
            page={page.data}
            letter={adds ? undefined : chosen}
            language={language}
            choose={(changes) => set(changes)}
          />
        )}
      </div>
    </main>
  );
}

/** One wording on its way, with a real student's letter beside it. */
function Wording({
  page,
  letter,
  language,
  choose,
}: {
  page: View;
  letter: View["letters"][number] | undefined;
  language: string;
  choose: (changes: Record<string, string | undefined>) => void;
}) {
  const was = letter?.wordings.find((w) => w.language === language);
  const own = letter?.wordings.find((w) => w.language === "");
  const begin = was ?? own ?? page.example;
  const [name, setName] = useState(letter?.name ?? "");
  const [retired, setRetired] = useState(letter?.retired ?? false);
  const [inLanguage, setInLanguage] = useState(language === "new" ? "" : language);
  const [subject, setSubject] = useState(begin.subject);
  const [text, setText] = useState(begin.text);
  const [tried, setTried] = useState<{ letters?: Schemas["LetterView"][]; wrong?: string }>({});
  useEffect(() => {
    const timer = setTimeout(() => {
      send({ path: "/api/letters/try", body: { subject, text } }).then(
        (letters) => setTried({ letters }),
        (e: Error) => setTried((before) => ({ ...before, wrong: e.message })),
      );
    }, 400);
    return () => clearTimeout(timer);
  }, [subject, text]);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      choose({ letter: String(r.ids[0]), language: inLanguage || undefined });
    },
    failed: (e) => tell.wrong(e.message),
  });
  const changed =
    subject !== was?.subject || text !== was?.text || name !== letter?.name || retired !== letter?.retired;
  return (
    <>
      <Panel
        title={letter ? letter.name : "New letter"}
        extra={was ? `version ${was.version}, ${was.by}` : letter ? "a further language" : undefined}
      >
        <form
          className="wording"
          onSubmit={(e) => {
            e.preventDefault();
            write.mutate({
              path: "/api/letters",
              body: {
                id: letter?.id ?? 0,
                name,
                language: inLanguage,
                subject,
                text,
                retired,
                seen: was?.version ?? 0,
              },
            });
          }}
        >
          {letter && (
            <Choice
              label="Language"
              value={language}
              onChange={(l) => choose({ language: l || undefined })}
              options={[
                ...letter.wordings.map((w) => ({
                  value: w.language,
                  label: w.language || "the school’s own language",
                })),
                { value: "new", label: "another language …" },
              ]}
            />
          )}
          <label>
            Name
            <Input value={name} maxLength={60} onChange={(e) => setName(e.target.value)} />
          </label>
          {language === "new" && (
            <label>
              Language, as the contacts have it
              <Input value={inLanguage} maxLength={40} onChange={(e) => setInLanguage(e.target.value)} />
            </label>
          )}
          <label>
            Subject
            <Input value={subject} maxLength={200} onChange={(e) => setSubject(e.target.value)} />
          </label>
          <label>
            Text
            <TextArea
              value={text}
              maxLength={10_000}
              autoSize={{ minRows: 10, maxRows: 26 }}
              onChange={(e) => setText(e.target.value)}
            />
          </label>
          {letter && (
            <Tick checked={retired} onChange={setRetired}>
              offered no more
            </Tick>
          )}
          <Button
            type="primary"
            htmlType="submit"
            disabled={!changed || !name.trim() || (language === "new" && !inLanguage.trim())}
            loading={write.isPending}
          >
            Save {was ? "as the next version" : ""}
          </Button>
        </form>
        <details className="fields">
          <summary>What a letter can name</summary>
          <dl>
            {page.fields.map((f) => (
              <div key={f.name}>
                <dt>
                  <button type="button" className="link" onClick={() => setText(`${text}{${f.name}}`)}>
                    {`{${f.name}}`}
                  </button>
                </dt>
                <dd className="look-muted">{f.about}</dd>
              </div>
            ))}
          </dl>
        </details>
      </Panel>
      <Panel title="As a student’s home gets it" extra={tried.letters?.[0]?.student.name}>
        {tried.wrong && (
          <p className="empty look-overdue" role="alert">
            {tried.wrong}
          </p>
        )}
        {tried.letters?.map((l) => (
          <Sheet key={l.recipient.join()} l={l} />
        ))}
      </Panel>
    </>
  );
}
