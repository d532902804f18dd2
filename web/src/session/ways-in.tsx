import { useQuery } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { answer, client } from "../api/client";
import { DoorFrame } from "./door-frame";
import { useMakeFirstOwner, useReset, useTakeInvite } from "./session";
import { Trouble, Waiting } from "./states";

interface Field {
  key: string;
  name: string;
  secret?: boolean;
  hint?: string;
  auto: string;
}

const NAME: Field = {
  key: "username",
  name: "Your name",
  hint: "As it will appear beside your readings.",
  auto: "username",
};
const PASSWORD: Field = {
  key: "password",
  name: "A password",
  secret: true,
  hint: "Ten characters at least; a few words are better than one strange one.",
  auto: "new-password",
};

interface Props {
  title: string;
  children: ReactNode;
  fields: Field[];
  press: string;
  pending: boolean;
  refused: string | undefined;
  onDone: (values: Record<string, string>) => void;
}

/** A form at the door. */
function WayIn({ title, children, fields, press, pending, refused, onDone }: Props) {
  const [values, setValues] = useState<Record<string, string>>({});
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onDone(values);
  };
  return (
    <DoorFrame>
      <form onSubmit={submit} className="flex flex-col gap-3">
        <h2 className="text-2xl">{title}</h2>
        <p className="leading-snug">{children}</p>
        {fields.map((field) => (
          <div key={field.key}>
            <label htmlFor={field.key} className="font-semibold">
              {field.name}
            </label>
            <input
              id={field.key}
              className="entry w-full"
              type={field.secret ? "password" : "text"}
              autoComplete={field.auto}
              aria-describedby={field.hint ? `${field.key}-hint` : undefined}
              value={values[field.key] ?? ""}
              onChange={(event) => setValues({ ...values, [field.key]: event.target.value })}
            />
            {field.hint && (
              <p id={`${field.key}-hint`} className="text-sm text-soft">
                {field.hint}
              </p>
            )}
          </div>
        ))}
        {refused && (
          <p role="alert" className="border-l-4 border-fault pl-3 text-fault">
            {refused}
          </p>
        )}
        <button
          type="submit"
          className="press press-main mt-2 text-lg"
          disabled={pending || fields.some((field) => !values[field.key]?.trim())}
        >
          {press}
        </button>
      </form>
    </DoorFrame>
  );
}

/** The first start, or nobody left who runs it: whoever holds the code from the terminal becomes the shop's owner. */
export function FirstOwner({ ownerless }: { ownerless?: boolean }) {
  const make = useMakeFirstOwner();
  return (
    <WayIn
      title={ownerless ? "Make an owner" : "Set this shop up"}
      fields={[
        {
          key: "code",
          name: "The code",
          hint: "Three groups of four, in the terminal where Jugatrix was started.",
          auto: "one-time-code",
        },
        NAME,
        PASSWORD,
      ]}
      press="Open the shop"
      pending={make.isPending}
      refused={make.error?.message}
      onDone={({ code = "", username = "", password = "" }) => make.mutate({ code, username, password })}
    >
      {ownerless
        ? "Nobody who can sign in runs this shop’s copy. With the code, a name that is here already gets this new password and becomes the owner."
        : "Nobody is here yet. You become the owner: you invite the others and look after the backups."}
    </WayIn>
  );
}

/** Somebody invited: chooses a name and a password, and is in. */
export function Invited() {
  const { token = "" } = useParams();
  const navigate = useNavigate();
  const take = useTakeInvite();
  const invited = useQuery({
    queryKey: ["invited", token],
    queryFn: () => answer(client.GET("/api/people/invited/{token}", { params: { path: { token } } })),
    retry: false,
  });
  if (invited.isPending) return <Waiting what="Opening the invitation" />;
  if (invited.isError)
    return (
      <Trouble title="This invitation does not open" detail={invited.error.message}>
        <a href="/" className="press">
          Go to sign-in
        </a>
      </Trouble>
    );
  return (
    <WayIn
      title={`${invited.data.by} lets you in`}
      fields={[NAME, PASSWORD]}
      press="Come in"
      pending={take.isPending}
      refused={take.error?.message}
      onDone={({ username = "", password = "" }) =>
        take.mutate({ token, username, password }, { onSuccess: () => navigate("/", { replace: true }) })
      }
    >
      What you may do here, as {invited.data.role}: {invited.data.does}.
    </WayIn>
  );
}

/** A forgotten password: a new one, by a link from the owner. */
export function Reset() {
  const { who = "", token = "" } = useParams();
  const navigate = useNavigate();
  const reset = useReset();
  return (
    <WayIn
      title="A new password"
      fields={[PASSWORD]}
      press="Take it"
      pending={reset.isPending}
      refused={reset.error?.message}
      onDone={({ password = "" }) =>
        reset.mutate(
          { token: `${who}/${token}`, username: "", password },
          { onSuccess: () => navigate("/", { replace: true }) },
        )
      }
    >
      The old one ends, and so does every session that was opened with it.
    </WayIn>
  );
}
