import { Button, Skeleton, TextField } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import type { MessageTemplate } from '#core/contract/messageCalls.ts';
import { sampleOf, templateFault } from '#core/texts/messages.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { Allowed } from '../session/Allowed.tsx';
import { useShop } from '../goods/useShop.ts';
import { useSession } from '../session/useSession.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { Toast } from '../shared/Toast.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { useFilters } from '../shared/useFilters.ts';
import { EVENT_NAMES } from './eventNames.ts';
import { LetterPreview } from './LetterPreview.tsx';
import { useLook } from './useSettings.ts';
import styles from '../shared/letters.module.css';
import { useExampleValues, useOurWords, useSaveWords, useSendTest, useTemplates } from './useMessages.ts';

/** Templates of all messages, beside their previews. */
export function WordsPage() {
  const templates = useTemplates();
  const shop = useShop();
  const [search, set] = useFilters();
  if (templates.error) return <LoadFailed error={templates.error} retry={() => void templates.refetch()} />;
  if (!templates.data || !shop) return <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />;
  const [first] = templates.data;
  const event = search.get('event') ?? first?.event;
  const versions = templates.data.filter((template) => template.event === event);
  const chosen = versions.find(({ locale }) => locale === search.get('locale')) ?? versions[0];
  const events = [...new Map(templates.data.map((template) => [template.event, template])).values()];
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Message templates</h1>
        <span className={lists.count} />
        <Button variant="outlined" component={Link} to="/messages">
          Back to the messages
        </Button>
      </header>
      <div className={styles.columns}>
        <nav className={styles.list} aria-label="Messages">
          {(['customer', 'owner'] as const).map((audience) => (
            <section key={audience}>
              <h2>{audience === 'customer' ? 'To customers' : 'To you'}</h2>
              <ul>
                {events
                  .filter((template) => template.audience === audience)
                  .map((template) => (
                    <li key={template.event} className={template.event === event ? styles.chosen : undefined}>
                      <button
                        type="button"
                        aria-current={template.event === event}
                        onClick={() => {
                          set('event', template.event);
                        }}
                      >
                        <b>{EVENT_NAMES[template.event]}</b>
                        {templates.data.some((other) => other.event === template.event && other.isCustom) && (
                          <small>customised</small>
                        )}
                      </button>
                    </li>
                  ))}
              </ul>
            </section>
          ))}
        </nav>
        {chosen && (
          <Editor
            key={`${chosen.event} ${chosen.locale} ${String(chosen.isCustom)}`}
            template={chosen}
            locales={versions.map(({ locale }) => locale)}
            choose={(locale) => {
              set('locale', locale);
            }}
            shop={shop}
          />
        )}
      </div>
    </main>
  );
}

interface EditorProps {
  readonly template: MessageTemplate;
  readonly locales: readonly string[];
  readonly choose: (locale: string) => void;
  readonly shop: ShopFacts;
}

function Editor({ template, locales, choose, shop }: EditorProps) {
  const { event, locale, placeholders, isCustom } = template;
  const [subject, setSubject] = useState(template.subject);
  const [body, setBody] = useState(template.body);
  const [message, setMessage] = useState<string | null>(null);
  const look = useLook();
  const example = useExampleValues(shop, locale);
  const save = useSaveWords();
  const ours = useOurWords();
  const test = useSendTest();
  const email = useSession().data?.user?.email;
  const fault = { subject: templateFault(event, subject), body: templateFault(event, body) };
  const isWhole = subject.trim() !== '' && body.trim() !== '' && fault.subject === null && fault.body === null;
  const isChanged = subject !== template.subject || body !== template.body;
  const words = { event, locale, subject, body };
  const comes = isWhole ? sampleOf(words, locale, shop, example) : null;
  const error = save.error ?? ours.error ?? test.error;
  return (
    <section className={styles.editor} aria-label={EVENT_NAMES[event]}>
      <div className={styles.fields}>
        <div className={styles.filters}>
          {locales.map((name) => (
            <button
              key={name}
              type="button"
              aria-pressed={name === locale}
              onClick={() => {
                choose(name);
              }}
            >
              {new Intl.DisplayNames('en', { type: 'language' }).of(name)}
            </button>
          ))}
        </div>
        <Allowed permission="publish">
          <TextField
            label="Subject"
            value={subject}
            error={fault.subject !== null}
            helperText={fault.subject}
            onChange={({ target }) => {
              setSubject(target.value);
            }}
          />
          <TextField
            label="Text"
            multiline
            minRows={9}
            value={body}
            error={fault.body !== null}
            helperText={
              fault.body ?? 'Markdown: **bold**, *italics*, [words](address), an empty line between paragraphs'
            }
            onChange={({ target }) => {
              setBody(target.value);
            }}
          />
          <p className={styles.places}>
            Placeholders:{' '}
            {['shop', ...placeholders].map((name) => (
              <code key={name}>{`{${name}}`}</code>
            ))}
          </p>
          {error && <ErrorNote error={error} />}
          <div className={styles.acts}>
            <Button
              variant="contained"
              disabled={!isWhole || !isChanged}
              loading={save.isPending}
              onClick={() => {
                save.mutate(words, {
                  onSuccess: () => {
                    setMessage('Saved. The next message uses it.');
                  },
                });
              }}
            >
              Save
            </Button>
            {isCustom && (
              <Button
                variant="outlined"
                loading={ours.isPending}
                onClick={() => {
                  ours.mutate({ event, locale });
                }}
              >
                Restore the default
              </Button>
            )}
            {email !== undefined && (
              <Button
                variant="outlined"
                disabled={!isWhole}
                loading={test.isPending}
                onClick={() => {
                  test.mutate(
                    { ...words, to: email },
                    {
                      onSuccess: () => {
                        setMessage(`A test is on its way to ${email}.`);
                      },
                    },
                  );
                }}
              >
                Send a test to me
              </Button>
            )}
          </div>
        </Allowed>
      </div>
      <section className={styles.comes} aria-label="Preview">
        {comes ? (
          <>
            <h2>{comes.subject}</h2>
            {look && <LetterPreview html={comes.html} locale={locale} look={look} shop={shop} />}
          </>
        ) : (
          <p className={lists.empty}>The preview appears once the text is complete.</p>
        )}
      </section>
      <Toast
        words={message}
        done={() => {
          setMessage(null);
        }}
      />
    </section>
  );
}
