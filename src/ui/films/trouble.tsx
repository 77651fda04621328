import { Logo } from '../parts/logo';

/** What keeps the films from being shown, and what to do. */
export function Trouble({ sentence }: { readonly sentence: string }) {
  return (
    <main className="mx-auto flex max-w-[620px] flex-col gap-6 px-6 py-14">
      <h1 className="flex items-center gap-2.5 text-[22px] font-bold">
        <Logo />
        irimi
      </h1>
      <p role="alert" className="border-l-[3px] border-fault pl-3 text-[14px]">
        {sentence}
      </p>
      <p>
        <a href="/" className="underline">
          Try again
        </a>
      </p>
    </main>
  );
}
