import { useMutation, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask } from "../api/client";
import { queries } from "../api/queries";
import { useStudy } from "../study/session/store";
import { Menu } from "../ui/Menu";

/** Writes a memo of what is seen, named as "RUN:SCENARIO", or opens one that is there. */
export function MemoMenu({ columns }: { columns: string[] }) {
  const study = useStudy((state) => state.id);
  const navigate = useNavigate();
  const path = { params: { path: { study_id: study } } };
  const memos = useQuery({ queryKey: ["memos", study], queryFn: () => ask(api.GET("/api/studies/{study_id}/memos", path)) }).data;
  const open = (id: number) => void navigate(`/studies/${study}/memos/${id}`);
  const write = useMutation({
    mutationFn: () => ask(api.POST("/api/studies/{study_id}/memos", { ...path, body: { columns } })),
    onSuccess: async (memo) => {
      await queries.invalidateQueries({ queryKey: ["memos", study] });
      open(memo.id);
    },
    onError: (error) => toast.error(error.message),
  });
  return (
    <Menu
      trigger={write.isPending ? "Writing …" : "Memo"}
      items={[
        { label: "Write a memo of this", onChoose: () => write.mutate() },
        ...(memos ?? []).map(({ id, title, stale, created_at }, n) => ({
          label: title,
          hint: stale.length > 0 ? "out of date" : new Date(created_at).toLocaleDateString("en-GB", { day: "numeric", month: "short" }),
          onChoose: () => open(id),
          separated: n === 0,
        })),
      ]}
    />
  );
}
