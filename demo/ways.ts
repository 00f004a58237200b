import type { Owner } from './ownerClient.ts';

/** The nursery's letters in its own look; text messages, chat and a program of its own, all of which simulators take. */
export async function connectWays(simulators: string, owner: Owner): Promise<void> {
  const settings = {
    design: 'specimen',
    colour: '#2E5B45',
    terms: {
      en: 'Quillfern Nursery, The Old Frame Yard. What is reserved is sent when it is ready to travel.',
      fr: 'Pépinière Quillfern, The Old Frame Yard. Ce qui est réservé part quand c’est prêt à voyager.',
    },
    text: { url: `${simulators}/text`, secret: 'made-up-for-the-demo' },
    telephones: ['+351210000042'],
    chat: { url: `${simulators}/chat` },
    choices: {
      'waitlist.invited': { channels: ['email', 'text'] },
      'quote.new': { channels: ['email', 'chat'] },
      'enquiry.new': { channels: ['email', 'chat'], to: ['olive@quillfern.example'] },
    },
  };
  await owner.send('PUT', '/api/messages/settings', JSON.stringify(settings));
  const hook = { url: `${simulators}/hooks`, events: ['preorder.new', 'waitlist.new', 'quote.answered'] };
  const { secret } = await owner.send<{ secret: string }>('POST', '/api/web-hooks', JSON.stringify(hook));
  const body = JSON.stringify({ secret });
  await fetch(`${simulators}/hook-secrets`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body });
}
