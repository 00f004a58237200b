import { Door } from './Door.tsx';

export function NotSetUp() {
  return (
    <Door title="This shop is not set up yet">
      <p>
        Whoever started the server finds a one-time link in what it printed. Open that link to name the shop and to
        become its first owner.
      </p>
    </Door>
  );
}
