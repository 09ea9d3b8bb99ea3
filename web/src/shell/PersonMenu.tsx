import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, ask } from "../api/client";
import { useSession } from "../api/queries";
import { Menu } from "../ui/Menu";
import { chooseTheme, currentTheme } from "./theme";

/** Who is signed in, and what belongs to a person rather than to a study. */
export function PersonMenu() {
  const session = useSession();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [theme, setTheme] = useState(currentTheme);
  const signOut = useMutation({
    mutationFn: () => ask(api.DELETE("/api/session")),
    onSuccess: async () => {
      await navigate("/");
      client.clear();
      await client.invalidateQueries();
    },
  });
  const other = theme === "day" ? "night" : "day";
  return (
    <Menu
      trigger={session.data?.name}
      className="whitespace-nowrap rounded px-2 py-1 text-sm text-[#c9ced6] hover:text-on-bar"
      items={[
        {
          label: other === "night" ? "Night theme" : "Day theme",
          onChoose: () => {
            chooseTheme(other);
            setTheme(other);
          },
        },
        { label: "Sign out", onChoose: () => signOut.mutate() },
      ]}
    />
  );
}
