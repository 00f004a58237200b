import { Button, Skeleton } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import type { MessageSettings } from '#core/contract/channelCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { defaultTemplate, sampleOf } from '#core/texts/messages.ts';
import { useMay } from '../session/useMay.ts';
import { whoMay } from '../session/Allowed.tsx';
import { useShop } from '../goods/useShop.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { Toast } from '../shared/Toast.tsx';
import lists from '../shared/lists.module.css';
import { Letters } from './Letters.tsx';
import { LetterPreview } from './LetterPreview.tsx';
import { LookFields, WaysFields } from './LookFields.tsx';
import { ReachTable } from './ReachTable.tsx';
import { useLook, useSaveSettings, useSettings, useTryChannel } from './useSettings.ts';
import styles from './messages.module.css';

/** Screen of the design and channels of messages, and their recipients. */
export function SettingsPage() {
  const may = useMay('settings');
  if (may) return <LoadedSettings />;
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Design and channels</h1>
      </header>
      <p className={styles.notMine}>
        {whoMay('settings')} see and change how messages look and by which channels they go.
      </p>
    </main>
  );
}

function LoadedSettings() {
  const settings = useSettings();
  const shop = useShop();
  if (!settings || !shop) return <Skeleton variant="rounded" height={320} sx={{ m: 4 }} />;
  return <Settings saved={settings} shop={shop} />;
}

function Settings({ saved, shop }: { readonly saved: MessageSettings; readonly shop: ShopFacts }) {
  const [settings, setSettings] = useState(saved);
  const [message, setMessage] = useState<string | null>(null);
  const save = useSaveSettings();
  const trial = useTryChannel();
  const look = useLook();
  const isChanged = JSON.stringify(settings) !== JSON.stringify(saved);
  const change = (changed: Partial<MessageSettings>) => {
    setSettings((before) => connected({ ...before, ...changed }));
  };
  const [locale = 'en'] = shop.locales;
  const sample = sampleOf(defaultTemplate('waitlist.invited', locale, shop), locale, shop);
  const parts = { settings, shop, change };
  const tryIt = (body: Parameters<typeof trial.mutate>[0]) => {
    trial.mutate(body, {
      onSuccess: () => {
        setMessage('A test is on its way.');
      },
    });
  };
  const [telephone] = saved.telephones;
  const error = save.error ?? trial.error;
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Design and channels</h1>
        <span className={lists.count} role="status">
          {isChanged ? 'not saved' : ''}
        </span>
        {saved.text && telephone !== undefined && (
          <Button
            variant="outlined"
            disabled={isChanged}
            onClick={() => {
              tryIt({ channel: 'text', to: telephone });
            }}
          >
            Send a test text message
          </Button>
        )}
        {saved.chat && (
          <Button
            variant="outlined"
            disabled={isChanged}
            onClick={() => {
              tryIt({ channel: 'chat' });
            }}
          >
            Send a test to the chat
          </Button>
        )}
        <Button variant="outlined" component={Link} to="/messages">
          Back to the messages
        </Button>
        <Button
          variant="contained"
          disabled={!isChanged}
          loading={save.isPending}
          onClick={() => {
            save.mutate(settings, {
              onSuccess: () => {
                setMessage('Saved. The next message uses it.');
              },
            });
          }}
        >
          Save
        </Button>
      </header>
      <div className={styles.columns}>
        <div className={styles.fields}>
          {error && <ErrorNote error={error} />}
          <Letters />
          <LookFields {...parts} />
          <WaysFields {...parts} />
          <ReachTable {...parts} />
        </div>
        <aside className={styles.sample} aria-label="Preview of an e-mail">
          <h2>{sample.subject}</h2>
          <LetterPreview
            html={sample.html}
            locale={locale}
            look={{ ...settings, address: look?.address ?? null }}
            shop={shop}
          />
        </aside>
      </div>
      <Toast
        words={message}
        done={() => {
          setMessage(null);
        }}
      />
    </main>
  );
}

/** A way that is no longer connected is chosen for nothing. */
function connected(settings: MessageSettings): MessageSettings {
  const isThere = { email: true, text: settings.text !== null, chat: settings.chat !== null };
  const choices = Object.entries(settings.choices).map(([event, choice]) => [
    event,
    { ...choice, channels: choice.channels.filter((channel) => isThere[channel]) },
  ]);
  return { ...settings, choices: Object.fromEntries(choices) as MessageSettings['choices'] };
}
