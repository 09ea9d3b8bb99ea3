import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { api, ask } from "../api/client";
import { useSession } from "../api/queries";
import { MAIN_BUTTON } from "../ui/Menu";
import { Logo } from "./Logo";

/** Shows the application to who is signed in, and the sign-in to everybody else. */
export function SignedIn({ children }: { children: ReactNode }) {
  const session = useSession();
  if (session.isPending) return null;
  if (session.isError)
    return (
      <p role="alert" className="p-10">
        {session.error.message}
      </p>
    );
  return session.data.email ? children : <SignIn />;
}

function SignIn() {
  const client = useQueryClient();
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const signIn = useMutation({
    mutationFn: () => ask(api.POST("/api/session", { body: { email, password } })),
    onSuccess: () => client.invalidateQueries(),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate();
  };
  const field = "w-full rounded-t border-b-2 border-ink bg-value px-2.5 py-2 focus:bg-marker-light";
  return (
    <main className="grid h-full grid-cols-[minmax(0,1fr)_26rem] max-[760px]:grid-cols-1">
      <div className="on-bar flex flex-col justify-between bg-bar p-10 text-on-bar max-[760px]:hidden">
        <span className="flex items-center gap-3 text-xl font-bold">
          <Logo /> Urban Queue
        </span>
        <Banner />
        <p className="max-w-lg text-base text-[#b6bcc6]">
          How many people, when, doing what, so that nobody waits too long and nobody is paid to stand idle.
        </p>
      </div>
      <form onSubmit={submit} className="flex flex-col justify-center gap-4 bg-sheet p-10">
        <h1 className="text-xl font-bold">Sign in</h1>
        <label className="text-sm text-ink-2">
          E-mail address
          <input
            className={`${field} mt-1 block text-base text-ink`}
            type="email"
            autoComplete="username"
            required
            autoFocus
            value={email}
            onChange={(event) => setEmail(event.target.value)}
          />
        </label>
        <label className="text-sm text-ink-2">
          Password
          <input
            className={`${field} mt-1 block text-base text-ink`}
            type="password"
            autoComplete="current-password"
            required
            value={password}
            onChange={(event) => setPassword(event.target.value)}
          />
        </label>
        {signIn.isError && (
          <p role="alert" className="text-sm text-wrong">
            {signIn.error.message}
          </p>
        )}
        <button type="submit" className={`${MAIN_BUTTON} self-start`} disabled={signIn.isPending}>
          Sign in
        </button>
      </form>
    </main>
  );
}

/** A piece of a line map, as a greeting. */
function Banner() {
  return (
    <svg viewBox="0 0 560 200" className="w-full max-w-2xl" aria-hidden fill="none" strokeWidth={7}>
      <path d="M0 96H150L210 40H400" stroke="#7ea2ff" strokeLinejoin="round" />
      <path d="M0 106H156L216 50H560" stroke="#f39a58" strokeLinejoin="round" />
      <path d="M0 116H150L210 172H340L410 106H560" stroke="#d48bd0" strokeLinejoin="round" />
      {[
        [60, 106, 24],
        [280, 45, 16],
        [280, 172, 6],
        [470, 106, 6],
      ].map(([x, y, half]) => (
        <rect
          key={`${x} ${y}`}
          x={Number(x) - 10}
          y={Number(y) - Number(half) - 6}
          width={20}
          height={2 * Number(half) + 12}
          rx={10}
          fill="#17202b"
          stroke="#fffdf8"
          strokeWidth={4}
        />
      ))}
      {[20, 9, -2].map((x) => (
        <circle key={x} cx={x + 14} cy={82} r={4} fill="#ffc928" />
      ))}
    </svg>
  );
}
