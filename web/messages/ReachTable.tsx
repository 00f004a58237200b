import { Checkbox, TextField } from '@mui/material';
import { choiceOf, type MessageSettings } from '#core/contract/channelCalls.ts';
import { CHANNELS, channelsOf, type Channel } from '#core/texts/messages.ts';
import { EVENT_CODES, EVENTS, type MessageEvent } from '#core/texts/messageEvents.ts';
import { CHANNEL_NAMES, EVENT_NAMES } from './eventNames.ts';
import type { SettingsProps } from './LookFields.tsx';
import styles from './messages.module.css';

/** Table of events, their channels and recipients. */
export function ReachTable({ settings, change }: SettingsProps) {
  const put = (event: MessageEvent, choice: Partial<ReturnType<typeof choiceOf>>) => {
    change({ choices: { ...settings.choices, [event]: { ...choiceOf(settings, event), ...choice } } });
  };
  return (
    <section aria-labelledby="reach" className={styles.section}>
      <h2 id="reach">Who is notified</h2>
      {(['customer', 'owner'] as const).map((audience) => (
        <table key={audience} className={styles.reach}>
          <colgroup>
            <col />
            <col span={CHANNELS.length} />
            <col />
          </colgroup>
          <thead>
            <tr>
              <th scope="col">{audience === 'customer' ? 'Customers are sent' : 'You are sent'}</th>
              {CHANNELS.map((channel) => (
                <th key={channel} scope="col">
                  {CHANNEL_NAMES[channel]}
                </th>
              ))}
              {audience === 'owner' ? <th scope="col">at</th> : <td />}
            </tr>
          </thead>
          <tbody>
            {EVENT_CODES.filter((event) => EVENTS[event].audience === audience).map((event) => {
              const { channels, to } = choiceOf(settings, event);
              return (
                <tr key={event}>
                  <th scope="row">{EVENT_NAMES[event]}</th>
                  {CHANNELS.map((channel) => (
                    <td key={channel}>
                      {channelsOf(event).includes(channel) && (
                        <Checkbox
                          size="small"
                          checked={channels.includes(channel)}
                          disabled={event === 'waitlist.confirm' || !isConnected(settings, channel)}
                          slotProps={{ input: { 'aria-label': `${EVENT_NAMES[event]} by ${CHANNEL_NAMES[channel]}` } }}
                          onChange={({ target }) => {
                            const others = channels.filter((other) => other !== channel);
                            put(event, { channels: target.checked ? [...others, channel] : others });
                          }}
                        />
                      )}
                    </td>
                  ))}
                  {audience === 'owner' && (
                    <td>
                      <TextField
                        placeholder="everybody’s address"
                        defaultValue={to?.join(', ') ?? ''}
                        slotProps={{ htmlInput: { 'aria-label': `${EVENT_NAMES[event]}: who is notified` } }}
                        onChange={({ target }) => {
                          const written = target.value.split(',').flatMap((one) => one.trim() || []);
                          put(event, { to: written.length === 0 ? null : written });
                        }}
                      />
                    </td>
                  )}
                </tr>
              );
            })}
          </tbody>
        </table>
      ))}
    </section>
  );
}

const isConnected = ({ text, chat }: MessageSettings, channel: Channel) =>
  channel === 'email' || (channel === 'text' ? text : chat) !== null;
