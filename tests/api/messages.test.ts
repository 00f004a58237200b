import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Message, MessageTemplate } from '#core/contract/messageCalls.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { startShop, type TestServer } from '../support/testServer.ts';

let mail: Mailbox;
let server: TestServer;
beforeAll(async () => {
  mail = await startMailbox();
  server = await startShop({ smtpUrl: mail.smtpUrl });
});
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

const INVITED = { event: 'waitlist.invited', locale: 'en' };
const templates = async () => (await server.send('GET', '/api/templates')).body as MessageTemplate[];
const of = async (event: string, locale: string) =>
  (await templates()).find((template) => template.event === event && template.locale === locale);
const put = (words: object) => server.send('PUT', '/api/templates', { body: { ...INVITED, ...words } });
const messages = async (query = '') =>
  (await server.send('GET', `/api/messages?${query}`)).body as { messages: Message[]; dead: number; more: boolean };

describe('the words of a message', () => {
  it('are ours in every language of the shop until the owner writes others, and ours again when those go', async () => {
    const ours = await of('waitlist.invited', 'en');
    expect(ours).toMatchObject({ isCustom: false, audience: 'customer' });
    expect((await of('waitlist.invited', 'fr'))?.subject).toContain('C’est votre tour');
    expect((await put({ subject: 'Now, {name}', body: 'Come for **{product}**.' })).status).toBe(204);
    expect(await of('waitlist.invited', 'en')).toMatchObject({ isCustom: true, subject: 'Now, {name}' });
    expect(await of('waitlist.invited', 'fr')).toMatchObject({ isCustom: false });
    expect((await server.send('DELETE', '/api/templates/waitlist.invited/en')).status).toBe(204);
    expect(await of('waitlist.invited', 'en')).toEqual(ours);
  });

  it.each([
    [{ subject: '{nobody}', body: 'x' }, '/subject'],
    [{ subject: 'x', body: '{units}' }, '/body'],
    [{ subject: 'x', body: '{product' }, '/body'],
  ])('%j are refused with the fault named', async (words, pointer) => {
    const { status, body } = await put(words);
    expect(status).toBe(422);
    expect((body as { errors: { pointer: string }[] }).errors.map((error) => error.pointer)).toEqual([pointer]);
  });

  it('are sent on trial with made-up values; what customers call themselves does nothing in them', async () => {
    const words = { ...INVITED, subject: 'Trial', body: '[Go]({link}) **{name}** <b>{product}</b>' };
    const trial = { ...words, to: 'olive@quillfern.example' };
    expect((await server.send('POST', '/api/templates/test', { body: trial })).status).toBe(202);
    const letter = await mail.letter(({ subject }) => subject === 'Trial');
    expect(letter.html).toContain('<strong>Ada Finch</strong> &lt;b&gt;Hepatica');
    expect(letter.text).toContain('Go: /');
  });
});

describe('a message that is not taken', () => {
  it('waits, and when it is given up can be sent again by hand', async () => {
    const trial = { ...INVITED, subject: 'Late', body: 'x', to: 'late@quillfern.example' };
    mail.refuse(1);
    await server.send('POST', '/api/templates/test', { body: trial });
    await mail.letter(({ subject }) => subject === 'Late');
    const { messages: found } = await messages('search=late@');
    const [{ id } = { id: '' }] = found;
    expect((await server.send('POST', `/api/messages/${id}/again`)).status).toBe(409);
    await server.db.query("UPDATE messages SET state = 'dead', sent_at = NULL, error = 'refused' WHERE id = $1", [id]);
    expect(await messages('state=dead')).toMatchObject({ dead: 1, messages: [{ id, error: 'refused' }] });
    const again = mail.letters.length;
    expect((await server.send('POST', `/api/messages/${id}/again`)).status).toBe(204);
    await mail.letter((letter) => mail.letters.indexOf(letter) >= again);
    expect(mail.letters.filter(({ subject }) => subject === 'Late').map(({ messageId }) => messageId)).toEqual([
      `<message-${id}@understudy.test>`,
      `<message-${id}@understudy.test>`,
    ]);
  });
});
