import { expect, openLetter, send, signInAtShop, test, type Stage } from '../support/stage.ts';

/** Somebody joins a waitlist, at the shop. */
async function joinedBy(stage: Stage, shopper: Parameters<typeof signInAtShop>[0], name: string): Promise<void> {
  await signInAtShop(shopper, stage.shop.url, name);
  await shopper.goto(`${stage.shop.url}/plants/inkwell`);
  await shopper.getByRole('link', { name: 'Hear when we divide it' }).click();
  await expect(shopper.getByRole('dialog').getByRole('status')).toContainText('You are number');
}

test('the owner has messages go out by text, chat and to a program, in a look of their own', async ({
  owner,
  shopper,
  stage,
}) => {
  const { simulators } = stage;

  await test.step('by which ways, to whom, and how they look', async () => {
    await owner.getByRole('link', { name: 'Messages' }).click();
    await owner.getByRole('link', { name: 'Design and channels' }).click();
    await owner.getByRole('button', { name: 'Seed packet' }).click();
    await owner.getByLabel('Footer of every e-mail, English').fill('Quillfern Nursery, *the Old Frame Yard*');
    await owner.getByLabel('Address of your text message service').fill(`${simulators.url}/text`);
    await owner.getByLabel('Its secret').fill('made-up');
    await owner.getByLabel('Your telephone numbers').fill('+351 210 000 077');
    await owner.getByLabel('Address of your chat’s web hook').fill(`${simulators.url}/chat`);
    await owner.getByRole('checkbox', { name: 'Waitlist: somebody joined by text message' }).check();
    await owner.getByRole('checkbox', { name: 'Waitlist: somebody joined by chat' }).check();
    await owner.getByLabel('Waitlist: somebody joined: who is notified').fill('yard@quillfern.example');
    await owner.getByRole('button', { name: 'Save' }).click();
    await expect(owner.getByText('Saved. The next message uses it.')).toBeVisible();
    await owner.getByRole('button', { name: 'Send a test to the chat' }).click();
    await expect(owner.getByText('A test is on its way.')).toBeVisible();
  });

  const secret = await test.step('a program is told, by signed calls', async () => {
    await owner.getByRole('link', { name: 'Connection' }).click();
    await owner.getByRole('button', { name: 'Add a web hook' }).click();
    await owner.getByLabel('Address of the program').fill(`${simulators.url}/hooks`);
    await owner.getByLabel('Events').click();
    await owner.getByRole('option', { name: 'Waitlist: somebody joined' }).click();
    await owner.keyboard.press('Escape');
    await owner.getByRole('button', { name: 'Add the web hook' }).click();
    await expect(owner.getByText('It is shown this once.')).toBeVisible();
    return (await owner.getByText(/^whsec_/).textContent()) ?? '';
  });
  await fetch(`${simulators.url}/hook-secrets`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ secret }),
  });
  await joinedBy(stage, shopper, 'Jonas Reed');

  await test.step('all of it is in the simulator', async () => {
    await openLetter(shopper, stage, 'yard@quillfern.example', 'Jonas Reed waits for');
    await expect(shopper.getByRole('article')).toContainText('the Old Frame Yard');
    await openLetter(shopper, stage, '+351210000077', 'Jonas Reed waits for');
    await openLetter(shopper, stage, 'the chat', 'Jonas Reed joined the waitlist');
    await openLetter(shopper, stage, 'a program', 'waitlist.new');
    await expect(shopper.getByText('signed rightly')).toBeVisible();
    await expect(shopper.getByText(/jonas\.reed@quillfern\.example/)).toBeVisible();
  });

  await test.step('and with the owner, who changes it, and stops it', async () => {
    const hook = owner.getByRole('listitem').filter({ hasText: '/hooks' });
    await expect(hook).toContainText('0 delivered');
    await owner.reload();
    await expect(hook).toContainText('1 delivered');
    await hook.getByRole('button', { name: 'Delete…' }).click();
    await hook.getByRole('button', { name: 'Delete', exact: true }).click();
    await expect(hook).toHaveCount(0);
    const { messages } = (await send(stage, 'GET', '/api/messages?search=%2B351210000077')) as {
      messages: { state: string; channel: string }[];
    };
    expect(messages).toMatchObject([{ state: 'sent', channel: 'text' }]);
  });
});
