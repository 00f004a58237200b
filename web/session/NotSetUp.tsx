import { Door } from './Door.tsx';

export function NotSetUp() {
  return (
    <Door title="This shop is not set up yet">
      <p>
        The server printed a one-time link when it started. Open that link to name the shop and become its first owner.
      </p>
    </Door>
  );
}
