CREATE INDEX "leadership_of_person" ON "leadership" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "person_state_of_person" ON "person_state" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "person_tag_of_person" ON "person_tag" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "access_grant_of_person" ON "access_grant" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "access_grant_made_by" ON "access_grant" USING btree ("made_by");--> statement-breakpoint
CREATE INDEX "seat_of_person" ON "seat" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "seat_line_of_person" ON "seat_line" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "launch_of_person" ON "launch" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "one_time_link_made_by" ON "one_time_link" USING btree ("made_by");--> statement-breakpoint
CREATE INDEX "join_code_version_made_by" ON "join_code_version" USING btree ("made_by");--> statement-breakpoint
CREATE INDEX "join_request_of_person" ON "join_request" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "join_request_decided_by" ON "join_request" USING btree ("decided_by");--> statement-breakpoint
CREATE INDEX "roster_file_made_by" ON "roster_file" USING btree ("made_by");