import { randomUUID } from 'node:crypto';
import type { Services } from '../services/services.ts';
import { theShop } from '../shopData/currentShop.ts';
import { ProblemError } from '../http/errors.ts';
import { sendMail } from '../messages/mail.ts';
import { escaped } from '../pages/page.ts';
import { passwordToken } from './passwords.ts';
import { staffById, type StaffRow } from './staffQueries.ts';

const QUEUE = 'staff-letter';
const INVITATION_MS = 7 * 86_400_000;
const RESET_MS = 3_600_000;
const RETRIES = { retryLimit: 6, retryDelay: 5, retryBackoff: true };

type Needs = Pick<Services, 'db' | 'clock' | 'config' | 'links'>;

/**
 * Creates the link with which a colleague sets a password: valid for a week the first time, else for an hour. No message
 * that others can read holds it: e-mails to colleagues bypass the outbox.
 */
export async function passwordLink({ clock, config, links }: Omit<Needs, 'db'>, staff: StaffRow): Promise<string> {
  const until = clock() + (staff.passwordHash === null ? INVITATION_MS : RESET_MS);
  return `${config.publicUrl}/password?token=${await passwordToken(links, staff, until)}`;
}

/** Has a letter with that link sent. */
export const sendPasswordLetter = ({ db, jobs }: Pick<Services, 'db' | 'jobs'>, id: number): Promise<void> =>
  jobs.add(db, QUEUE, { data: { id }, ...RETRIES });

/** Sends pending letters, on one copy of the server each; links are made as they are sent. */
export async function workStaffLetters(jobs: Services['jobs'], services: Needs): Promise<void> {
  await jobs.work<{ id: number }>(QUEUE, {}, async ({ data }) => {
    const staff = await staffById(services.db, data.id);
    if (staff) await sendMail(services.config, await letterTo(services, staff));
  });
}

async function letterTo(services: Needs, staff: StaffRow) {
  const { name: shop } = await theShop(services.db);
  const link = await passwordLink(services, staff);
  const isInvited = staff.passwordHash === null;
  const [subject, words, act] = isInvited
    ? [
        `${staff.invitedBy ?? shop} invites you to ${shop}`,
        `${staff.invitedBy ?? shop} has invited you to ${staff.sellerId === null ? `help with ${shop}` : `decide how what you sell is offered at ${shop}`} in Understudy. Choose a password, and you are in. The link is good for a week.`,
        'Choose a password',
      ]
    : [
        `A new password for ${shop}`,
        `Somebody, we hope you, asked to choose a new password for ${shop} in Understudy. The link is good for an hour. If it was not you, do nothing: your password stays as it is.`,
        'Choose a new password',
      ];
  return {
    to: staff.email,
    subject,
    text: `${words}\n\n${act}: ${link}\n`,
    html: `<p>${escaped(words)}</p><p><a href="${escaped(link)}">${act}</a></p>`,
    messageId: `<${randomUUID()}@understudy>`,
    attachments: [],
  };
}

/** Invites somebody to choose a password: by a letter, or by hand where none can be sent. */
export async function inviteByLetter(
  services: Needs & Pick<Services, 'jobs'>,
  staff: StaffRow,
): Promise<{ id: number; link: string | null }> {
  if (services.config.smtpUrl === null) return { id: staff.id, link: await passwordLink(services, staff) };
  await sendPasswordLetter(services, staff.id);
  return { id: staff.id, link: null };
}

/** @returns the problem of an address that somebody has already */
export const isThere = (email: string) =>
  new ProblemError('colleague-there', `${email} is a colleague’s address already.`);
