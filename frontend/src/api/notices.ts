import { useQuery } from "@tanstack/react-query";
import { client, type Notice, unwrap } from "./client";
import { done, keys } from "./queries";

/** What concerns who is signed in, the newest first. */
export const useNotices = () =>
  useQuery({ queryKey: keys.notices, queryFn: () => unwrap<Notice[]>(client.GET("/api/notices")) });

/** Say that notices were seen, up to one. */
export const seeNotices = (last: number) =>
  done(keys.notices, unwrap(client.POST("/api/notices/seen", { body: { last } })));
